package dev.vacancy.bench;

import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Measures deletions on PostgreSQL and H2, and writes figures and plots. */
@Command(
        name = "bench",
        mixinStandardHelpOptions = true,
        description = "Measures deletions by Vacancy, by hand and by the database's own cascade.")
public final class Bench implements Callable<Integer> {
    @Option(
            names = "--hives",
            split = ",",
            defaultValue = "20,200,2000",
            description = "How many hives go, in several sizes: ${DEFAULT-VALUE}.")
    private List<Integer> sizes = List.of();

    @Option(
            names = "--rounds",
            defaultValue = "7",
            description = "How often each contender does it: ${DEFAULT-VALUE}. The median counts.")
    private int rounds;

    @Option(
            names = "--stores",
            split = ",",
            defaultValue = "PostgreSQL,H2",
            description = "Which databases: ${DEFAULT-VALUE}.")
    private List<String> stores = List.of();

    @Option(
            names = "--dir",
            defaultValue = "docs",
            description = "Where benchmarks.md and the plots go: ${DEFAULT-VALUE}.")
    private Path folder = Path.of("docs");

    @Option(
            names = "--notes",
            defaultValue = "bench/notes.md",
            description = "What stands at the end of benchmarks.md: ${DEFAULT-VALUE}.")
    private Path notes = Path.of("bench", "notes.md");

    @Option(
            names = "--aggregates",
            description =
                    "Only print how long an entity manager takes for so many aggregates, and Vacancy for the same.")
    private Optional<Integer> aggregates = Optional.empty();

    @Option(
            names = "--workers",
            description =
                    "Only print how much several processes do together of bulk runs over so many hives and of so many follow-ups,"
                            + " and what idle ones cost, and draw it.")
    private Optional<Integer> workers = Optional.empty();

    @Option(
            names = "--documents",
            description = "Only print how long it takes to delete so many documents with one that they refer to.")
    private Optional<Integer> documents = Optional.empty();

    @Option(
            names = "--document-server",
            description = "With --documents: where the server is, mongodb://…; one in memory if left out.")
    private Optional<String> documentServer = Optional.empty();

    private final PrintStream out = System.err;

    /** Ten times as many hives stay as go, so that no database takes the whole table for the shorter way. */
    private static final int STAYING = 10;

    /** For how long those are watched who have nothing to do. */
    private static final int SECONDS_IDLE = 10;

    /**
     * Runs the measurements.
     *
     * @param arguments see {@code --help}
     */
    public static void main(String[] arguments) {
        System.exit(new CommandLine(new Bench()).execute(arguments));
    }

    @Override
    public Integer call() throws IOException, SQLException {
        if (aggregates.isPresent()) {
            System.out.print(new Aggregates(aggregates.get(), rounds).page());
            return 0;
        }
        if (documents.isPresent()) {
            System.out.print(new UnderOneDocument(documents.get(), rounds, documentServer).page());
            return 0;
        }
        Files.createDirectories(folder);
        if (workers.isPresent()) {
            System.out.print(new Workers(workers.get(), rounds, 1, 2, 4, 8).page(folder));
            System.out.print("\n" + new Idle(SECONDS_IDLE).text());
            return 0;
        }
        List<Figure> figures = new ArrayList<>();
        List<String> versions = new ArrayList<>();
        int hives = STAYING * sizes.stream().mapToInt(Integer::intValue).max().orElseThrow();
        for (String store : stores) {
            try (Store open = store.equals("H2") ? new H2Store(hives) : new PostgresStore(hives)) {
                versions.add(Store.version(open));
                Race race = new Race(open, rounds, hives);
                for (int size : sizes) {
                    out.println(store + ", " + size + " hives");
                    List<Figure> measured = race.measure(size);
                    measured.forEach(figure -> out.printf(
                            "  %-28s %9.1f ms %9.0f bytes%n", figure.label(), figure.millis(), figure.bytesEach()));
                    figures.addAll(measured);
                }
            }
            Plot.write(figures, store, folder.resolve("benchmarks-" + store.toLowerCase(Locale.ROOT) + ".svg"));
        }
        Files.writeString(
                folder.resolve("benchmarks.md"),
                new Report(figures, versions, rounds, hives, Files.readString(notes)).text());
        return 0;
    }
}
