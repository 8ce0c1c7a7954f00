package dev.vacancy.cli.configuration;

import dev.vacancy.Limits;
import dev.vacancy.cli.terminal.Paint;
import dev.vacancy.cli.terminal.PlainText;
import dev.vacancy.cli.terminal.Surroundings;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Mixin;

/** A verb that works on the database of the configuration. */
public abstract class DatabaseCommand implements Callable<Integer> {
    private final Surroundings surroundings;

    @Mixin
    private CommonOptions common;

    private Connecting connecting;

    public DatabaseCommand(Surroundings surroundings) {
        this.surroundings = surroundings;
    }

    /** Begins to open the database that the arguments seem to name, before they are understood. */
    public final void hurry(List<String> arguments) {
        connecting = CommonOptions.configIn(arguments, surroundings.folder())
                .map(Connecting::to)
                .orElse(null);
    }

    @Override
    public final Integer call() {
        if (connecting == null || !connecting.isTo(common.config())) {
            leave();
            connecting = Connecting.to(common.config());
        }
        try (Session session = connecting.session(surroundings.terminal()).within(limits())) {
            connecting = null;
            return on(session);
        }
    }

    /** Closes the database where it was opened for nothing. */
    public final void leave() {
        if (connecting != null) {
            connecting.leave();
        }
    }

    /**
     * Does what the verb says.
     *
     * @return the exit status
     */
    public abstract int on(Session session);

    /** How far plans and runs of this verb may go. */
    public Limits limits() {
        return Limits.defaults();
    }

    public final Surroundings surroundings() {
        return surroundings;
    }

    public final boolean json() {
        return common.json();
    }

    public final boolean verbose() {
        return common.verbose();
    }

    /** The command that a person types for a verb on the same database. */
    public final String command(String verb) {
        return surroundings.toolName() + " " + verb + common.again(surroundings.folder());
    }

    /** How results are coloured. */
    public final Paint paint() {
        return surroundings.paint();
    }

    /** Prints a result. */
    public final void print(String result) {
        surroundings.out().println(json() ? result : PlainText.painted(result));
    }

    /** Says something that is no result. */
    public final void say(String remark) {
        surroundings.err().println(PlainText.painted(remark));
    }
}
