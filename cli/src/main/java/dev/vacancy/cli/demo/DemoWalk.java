package dev.vacancy.cli.demo;

import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.Terminal;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.ToIntBiFunction;
import java.util.stream.Collectors;
import picocli.CommandLine.Help.Ansi;

/** Runs the demo's commands on a copy of its database, each shown as the user would type it. */
public final class DemoWalk {
    /** What of a step is shown: about a screen. */
    private static final int FIRST_LINES = 14;

    private static final int LAST_LINES = 6;

    /** So many more are shown rather than counted. */
    private static final int FEW_LINES = 4;

    private final Surroundings surroundings;
    private final ToIntBiFunction<Surroundings, String[]> tool;
    private final Path configuration;
    private final Path copy;
    private final boolean all;
    private boolean paused = true;

    /**
     * Prepares the walk.
     *
     * @param tool runs a command
     * @param configuration the configuration that the user would name
     * @param copy the one that is used instead
     * @param all whether each step shows all that it says, one behind the other; otherwise about a screen, with a pause behind each where a
     *     person is there
     */
    public DemoWalk(
            Surroundings surroundings,
            ToIntBiFunction<Surroundings, String[]> tool,
            Path configuration,
            Path copy,
            boolean all) {
        this.tool = tool;
        this.surroundings = surroundings;
        this.configuration = configuration;
        this.copy = copy;
        this.all = all;
    }

    /** Goes through the steps. */
    void walk(List<DemoStep> steps) {
        steps.forEach(this::step);
    }

    /** Tells how to go on. */
    void end(String where) {
        surroundings.out().println();
        surroundings.out().println(where + " Your turn:");
        surroundings.out().println("  " + typed(List.of("preview", "keeper", "--key", "3")));
    }

    private void step(DemoStep step) {
        surroundings.out().println();
        surroundings.out().println(Ansi.AUTO.string("@|faint # " + step.title() + "|@"));
        surroundings.out().println(Ansi.AUTO.string("@|bold $ " + typed(step.command()) + "|@"));
        List<String> arguments = new ArrayList<>(step.command());
        arguments.add("--config");
        arguments.add(copy.toString());
        // Everything on one stream, so that it can't come out of order.
        ByteArrayOutputStream said = new ByteArrayOutputStream();
        PrintStream stage = new PrintStream(said, true, StandardCharsets.UTF_8);
        Surroundings watched = new Surroundings(
                stage, stage, new Scripted(step.answer(), stage), surroundings.paint(), surroundings.folder());
        int status = tool.applyAsInt(watched, arguments.toArray(String[]::new));
        shown(said.toString(StandardCharsets.UTF_8).lines().toList())
                .forEach(line -> surroundings.out().println(line));
        surroundings.out().println(Ansi.AUTO.string("@|faint (exit status " + status + ")|@"));
        pause();
    }

    private List<String> shown(List<String> lines) {
        if (all || lines.size() <= FIRST_LINES + LAST_LINES + FEW_LINES) {
            return lines;
        }
        List<String> shown = new ArrayList<>(lines.subList(0, FIRST_LINES));
        shown.add(Ansi.AUTO.string(
                "@|faint … " + (lines.size() - FIRST_LINES - LAST_LINES) + " more lines: demo --all|@"));
        shown.addAll(lines.subList(lines.size() - LAST_LINES, lines.size()));
        return shown;
    }

    /** Lets a person read. Whoever ends the input wants no more pauses. */
    private void pause() {
        if (paused && !all && surroundings.terminal().isThere()) {
            paused = surroundings.terminal().ask("[Enter] ").isPresent();
        }
    }

    private String typed(List<String> command) {
        return surroundings.toolName() + " "
                + command.stream()
                        .map(word -> word.contains(" ") ? "\"" + word + "\"" : word)
                        .collect(Collectors.joining(" "))
                + " --config " + configuration;
    }

    /** Somebody who always gives the same answer, and is seen typing it. */
    private static final class Scripted implements Terminal {
        private final String answer;
        private final PrintStream stage;

        Scripted(String answer, PrintStream stage) {
            this.answer = answer;
            this.stage = stage;
        }

        @Override
        public Optional<String> ask(String question) {
            stage.println(question + answer);
            return Optional.of(answer);
        }

        @Override
        public Optional<char[]> askSecret(String question) {
            return Optional.empty();
        }

        @Override
        public boolean isThere() {
            return true;
        }
    }
}
