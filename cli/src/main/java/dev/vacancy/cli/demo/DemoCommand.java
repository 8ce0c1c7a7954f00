package dev.vacancy.cli.demo;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.demo.DemoDocuments;
import dev.vacancy.demo.DemoPages;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.internal.yaml.Configuration;
import dev.vacancy.internal.yaml.ConfigurationReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
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
    private static final int WEB_PORT = 8080;
    private static final int DOCUMENTS_PORT = 27117;

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
            names = "--documents",
            description = "Walk through the job on documents, on a server in memory that ends with the walk.")
    private boolean documents;

    @Option(
            names = "--port",
            paramLabel = "N",
            description =
                    "Where the web application listens, or the server of documents, on this machine only; if left out,"
                            + " 8080 for the one and 27117 for the other; 0 for any.")
    private Integer port;

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
            if (web && documents) {
                throw ToolException.wrongUsage(
                        "The web application of the demo works on the relational database.",
                        "Leave out --web or --documents.");
            }
            if (documents) {
                return walkThroughDocuments(demo);
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
                DemoWalk walk = new DemoWalk(
                        surroundings, tool, demo.configuration(), copy.resolve(DemoFolder.CONFIGURATION), all);
                walk.walk(DemoStep.onTables());
                walk.end("All of this was done on a copy; the records in "
                        + demo.configuration().getParent() + " are untouched.");
            } finally {
                DemoFolder.remove(copy);
            }
            return ExitStatus.DONE;
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    /** The walk has documents of its own, so that those that are told of stay as they are. */
    private int walkThroughDocuments(DemoFolder demo) throws IOException {
        DemoDocuments.Provider provider = ServiceLoader.load(DemoDocuments.Provider.class)
                .findFirst()
                .orElseThrow(() -> ToolException.wrongUsage(
                        "The server of the demo's documents isn't on the class path of this tool.",
                        "Start it from a checkout: ./vacancy demo --documents."));
        Path copy = Files.createTempDirectory("vacancy-demo");
        try (DemoDocuments server = started(provider);
                Connection tables = DriverManager.getConnection("jdbc:h2:mem:")) {
            Larkmoor.create(tables, 1);
            server.fill(tables, "larkmoor");
            server.fill(tables, "larkmoor_walk");
            demo.writeForDocuments(server.address("larkmoor"));
            DemoFolder forTheWalk = new DemoFolder(copy);
            forTheWalk.writeForDocuments(server.address("larkmoor_walk"));
            surroundings
                    .out()
                    .println("Made " + demo.configuration() + ". The made-up documents of Larkmoor Beekeepers'"
                            + " Co-operative are at " + server.address("larkmoor") + ", in memory.");
            DemoWalk walk = new DemoWalk(surroundings, tool, demo.configuration(), forTheWalk.configuration(), all);
            walk.walk(DemoStep.onDocuments());
            walk.end("All of this was done on a copy; the documents at " + server.address("larkmoor")
                    + " are untouched, and stay until this ends.");
            if (surroundings.terminal().isThere()) {
                surroundings.terminal().ask("[Enter] ends the server, and the documents are forgotten. ");
            }
            return ExitStatus.DONE;
        } catch (SQLException failure) {
            throw new IllegalStateException("The demo's records can't be made.", failure);
        } finally {
            DemoFolder.remove(copy);
        }
    }

    private DemoDocuments started(DemoDocuments.Provider provider) {
        int wanted = port == null ? DOCUMENTS_PORT : port;
        try {
            return provider.start(wanted);
        } catch (IOException taken) {
            throw new ToolException(
                    ExitStatus.FAILED,
                    "The server of documents can't listen on port " + wanted + ": " + taken.getMessage(),
                    "Choose another with --port N.",
                    taken);
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
            try (DemoPages application = pages.start(source, demo.configuration(), port == null ? WEB_PORT : port)) {
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
                    "The web application can't listen on port " + (port == null ? WEB_PORT : port) + ": "
                            + taken.getMessage(),
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
