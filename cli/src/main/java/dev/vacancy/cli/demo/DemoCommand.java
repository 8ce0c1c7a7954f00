package dev.vacancy.cli.demo;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.demo.DemoPages;
import dev.vacancy.internal.yaml.Configuration;
import dev.vacancy.internal.yaml.ConfigurationReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ServiceLoader;
import java.util.concurrent.Callable;
import java.util.function.ToIntBiFunction;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Makes the demo database and walks through the job on it. */
@Command(
        name = "demo",
        mixinStandardHelpOptions = true,
        description = "Make the demo database and walk through the job on it, with no other set-up.")
public final class DemoCommand implements Callable<Integer> {
    private final Surroundings surroundings;
    private final ToIntBiFunction<Surroundings, String[]> tool;

    @Option(
            names = "--dir",
            paramLabel = "DIR",
            defaultValue = "larkmoor",
            description = "The folder to make it in; larkmoor if left out.")
    private Path folder;

    @Option(
            names = "--all",
            description = "Show all that each step says, without a pause; about a screen of it if left out.")
    private boolean all;

    @Option(names = "--web", description = "Serve a web application on it, instead of the walk, until Ctrl-C.")
    private boolean web;

    @Option(
            names = "--port",
            paramLabel = "N",
            defaultValue = "8080",
            description = "Where the web application listens, on this machine only; 8080 if left out, 0 for any.")
    private int port;

    /**
     * Makes the command.
     *
     * @param tool runs the commands of the walk
     */
    public DemoCommand(Surroundings surroundings, ToIntBiFunction<Surroundings, String[]> tool) {
        this.surroundings = surroundings;
        this.tool = tool;
    }

    @Override
    public Integer call() {
        try {
            DemoFolder demo = new DemoFolder(folder);
            if (!demo.mayBeWritten() && !agreed(demo)) {
                surroundings.err().println("Not approved. Nothing was written.");
                return ExitStatus.NOT_APPROVED;
            }
            if (web) {
                DemoPages.Provider pages = pages();
                demo.write();
                return serve(demo, pages);
            }
            demo.write();
            surroundings
                    .out()
                    .println("Made " + demo.database() + " and " + demo.configuration()
                            + ": the made-up records of Larkmoor Beekeepers' Co-operative.");
            Path copy = Files.createTempDirectory("vacancy-demo");
            try {
                demo.copyTo(copy);
                new DemoWalk(surroundings, tool, demo.configuration(), copy.resolve(DemoFolder.CONFIGURATION), all)
                        .walk();
            } finally {
                DemoFolder.remove(copy);
            }
            return ExitStatus.DONE;
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    /** The pages are an application of their own, which the tool does without until somebody asks for them. */
    private static DemoPages.Provider pages() {
        return ServiceLoader.load(DemoPages.Provider.class)
                .findFirst()
                .orElseThrow(() -> ToolException.wrongUsage(
                        "The pages of the demo aren't on the class path of this tool.",
                        "Start them from a checkout: ./vacancy demo --web."));
    }

    /** The first line is the address, for whoever starts it by a program. */
    private int serve(DemoFolder demo, DemoPages.Provider pages) {
        Configuration configuration = ConfigurationReader.read(demo.configuration());
        try (HikariDataSource source = new HikariDataSource()) {
            source.setJdbcUrl(configuration.address().url());
            source.setUsername(configuration.address().user());
            try (DemoPages application = pages.start(source, demo.configuration(), port)) {
                surroundings.out().println(application.address());
                surroundings
                        .out()
                        .println("Programs find deletion at " + application.address()
                                + "api, with a keeper's e-mail address and the password " + application.password()
                                + ".");
                surroundings.out().flush();
                application.join();
            }
            return ExitStatus.DONE;
        } catch (IOException taken) {
            throw new ToolException(
                    ExitStatus.FAILED,
                    "The web application can't listen on port " + port + ": " + taken.getMessage(),
                    "Choose another with --port N.",
                    taken);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
            return ExitStatus.DONE;
        }
    }

    private boolean agreed(DemoFolder demo) throws IOException {
        demo.refuseToOverwrite();
        String question =
                "The folder " + folder + " holds files that the demo didn't make. Put the demo beside them? [y/N] ";
        if (!surroundings.terminal().isThere()) {
            surroundings.err().println(question);
            throw ToolException.wrongUsage(
                    "There is no terminal to ask, so the answer is no.", "Choose another folder with --dir DIR.");
        }
        return surroundings
                .terminal()
                .ask(question)
                .filter(answer ->
                        answer.strip().equalsIgnoreCase("y") || answer.strip().equalsIgnoreCase("yes"))
                .isPresent();
    }
}
