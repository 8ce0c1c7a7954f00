package dev.vacancy.cli.asking;

import dev.vacancy.Plan;
import dev.vacancy.bulk.BulkOptions;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;
import picocli.CommandLine.Option;

/** How a large deletion is cut into chunks. */
public final class ChunkOptions {
    public static final long DEFAULT_MAX_PER_TRANSACTION = 100_000;

    @Option(
            names = "--chunk",
            paramLabel = "N",
            description = "Delete in chunks of so many selected records, each committed by itself, as a bulk run.")
    private Integer chunk;

    @Option(
            names = "--max-per-transaction",
            paramLabel = "N",
            description =
                    "The most records that go in one transaction; beyond it the deletion is a bulk run. 100,000 if"
                            + " left out.")
    private Long maxPerTransaction;

    @Option(names = "--pause", paramLabel = "SECONDS", description = "How long a bulk run rests between two chunks.")
    private double pause;

    @Option(names = "--name", paramLabel = "TEXT", description = "What a bulk run is called in the list of runs.")
    private String name;

    @Option(
            names = "--stop-at-failure",
            description = "Stop a bulk run at the first record that can't be deleted, instead of going on.")
    private boolean stopAtFailure;

    @Option(
            names = "--as-selected",
            description =
                    "Let a bulk run delete what was selected when it began, even what has stopped matching since.")
    private boolean asSelected;

    @Option(
            names = "--failures-to",
            paramLabel = "FILE",
            description = "Write the records that a bulk run left, and why, to a CSV file.")
    private Path failures;

    @Option(
            names = "--deleted-to",
            paramLabel = "FILE",
            description =
                    "Write the selected records as they were to a file, as they go: JSON Lines if it ends in .jsonl,"
                            + " CSV if in .csv.")
    private Path deleted;

    /** Refuses what no bulk run can have, before anything is planned, asked or made. */
    public void validate() {
        options();
    }

    /** Whether a plan is carried out in chunks: because that is asked for, or there is too much of it. */
    public boolean isFor(Plan plan) {
        return chunk != null
                || plan.total() > (maxPerTransaction == null ? DEFAULT_MAX_PER_TRANSACTION : maxPerTransaction);
    }

    public BulkOptions options() {
        BulkOptions options = BulkOptions.defaults().pause(Duration.ofMillis(Math.round(pause * 1_000)));
        options = chunk == null ? options : options.chunk(chunk);
        options = maxPerTransaction == null ? options : options.maxPerTransaction(maxPerTransaction);
        options = name == null ? options : options.named(name);
        options = asSelected ? options.deletingAsSelected() : options;
        return stopAtFailure ? options.stoppingAtFailure() : options;
    }

    public String name() {
        return name;
    }

    public Optional<Path> deleted() {
        return Optional.ofNullable(deleted);
    }

    public Optional<Path> failures() {
        return Optional.ofNullable(failures);
    }
}
