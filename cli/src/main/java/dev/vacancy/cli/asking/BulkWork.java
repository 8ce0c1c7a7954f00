package dev.vacancy.cli.asking;

import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.cli.showing.BulkText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import java.io.IOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import me.tongfei.progressbar.ConsoleProgressBarConsumer;
import me.tongfei.progressbar.ProgressBar;
import me.tongfei.progressbar.ProgressBarBuilder;
import me.tongfei.progressbar.ProgressBarStyle;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Works on a bulk run in the foreground, and says how far it is. Ctrl-C lets the current chunk end first. */
public final class BulkWork {
    private static final long LINE_EVERY_NANOS = Duration.ofSeconds(3).toNanos();
    private static final int WIDTH = 78;

    private final BulkRuns runs;
    private final BulkOptions options;
    private final Surroundings surroundings;
    private final String resume;
    private final CountDownLatch ended = new CountDownLatch(1);
    private volatile boolean interrupted;
    private BulkRun sofar;
    private long lastLine = System.nanoTime();

    /**
     * Prepares to work.
     *
     * @param resume the command that goes on with the run
     */
    public BulkWork(BulkRuns runs, BulkOptions options, Surroundings surroundings, String resume) {
        this.runs = runs;
        this.options = options;
        this.surroundings = surroundings;
        this.resume = resume;
    }

    /** Thrown between two chunks, when somebody wants to stop. */
    private static final class Interrupted extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    /**
     * Works until the run ends, or somebody stops it.
     *
     * @param deleted where the deleted records are written, to be closed in the end
     */
    public BulkRun on(UUID id, Optional<DeletedFile> deleted) {
        Thread hook = new Thread(this::interrupt);
        try {
            Runtime.getRuntime().addShutdownHook(hook);
        } catch (IllegalStateException ending) {
            // Somebody has stopped it before it could be worked on.
            surroundings.err().println("Stopped before the first chunk. To go on: " + resume);
            throw end();
        }
        try {
            sofar = runs.run(id);
            return work(id, deleted);
        } catch (Interrupted stop) {
            throw end();
        } catch (VacancyException failure) {
            // An embedded database closes by itself when the virtual machine ends, perhaps in the middle of a chunk,
            // which it then
            // takes back.
            throw interrupted ? end() : endedEarly(id, failure);
        } finally {
            deleted.ifPresent(DeletedFile::close);
            if (!interrupted) {
                Runtime.getRuntime().removeShutdownHook(hook);
            }
        }
    }

    private BulkRun work(UUID id, Optional<DeletedFile> deleted) {
        try (Progress progress = progress(sofar)) {
            return runs.work(id, options, Exemption.none(), listener(progress, deleted));
        }
    }

    /** What was committed stays, whatever became of the rest, so nobody may take it for a failure that changed nothing. */
    private ToolException endedEarly(UUID id, VacancyException failure) {
        String done = sofar == null
                ? "nothing is known of its records"
                : String.format(Locale.ROOT, "%,d of %,d records are dealt with so far", sofar.done(), sofar.records());
        return new ToolException(
                ExitStatus.SOME_FAILED,
                "Bulk run " + id + " has ended early, and " + done + ": " + failure.problem(),
                "When that is settled, go on: " + resume,
                failure);
    }

    private BulkListener listener(Progress progress, Optional<DeletedFile> deleted) {
        return new BulkListener() {
            @Override
            public void progressed(BulkRun run) {
                sofar = run;
                progress.to(run);
                if (interrupted) {
                    deleted.ifPresent(DeletedFile::flush);
                    throw new Interrupted();
                }
            }

            @Override
            public void deleted(List<RecordContent> records) {
                deleted.ifPresent(file -> {
                    records.forEach(file::write);
                    file.flush();
                });
            }
        };
    }

    /** Lets the virtual machine end: there is nothing left to say or to ask. */
    private RuntimeException end() {
        ended.countDown();
        while (true) {
            LockSupport.park();
        }
    }

    /** The virtual machine is about to end; the chunk that is being worked on ends before it. */
    private void interrupt() {
        interrupted = true;
        try {
            if (ended.await(1, TimeUnit.MINUTES)) {
                surroundings.err().println();
                surroundings.err().println("Stopped after the last chunk. To go on: " + resume);
            }
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }

    /** How far a run is, shown while it goes on. */
    private interface Progress extends AutoCloseable {
        void to(BulkRun run);

        @Override
        void close();
    }

    private Progress progress(BulkRun run) {
        if (!surroundings.terminal().isThere()) {
            return new Progress() {
                @Override
                public void to(BulkRun now) {
                    sayNowAndThen(now);
                }

                @Override
                public void close() {}
            };
        }
        ProgressBar bar = new ProgressBarBuilder()
                .setTaskName(run.table())
                .setInitialMax(run.records())
                .setStyle(ProgressBarStyle.ASCII)
                .setMaxRenderedLength(WIDTH)
                .setConsumer(new ConsoleProgressBarConsumer(surroundings.err(), WIDTH))
                .build();
        return new Progress() {
            @Override
            public void to(BulkRun now) {
                bar.stepTo(now.records() - now.open());
                bar.setExtraMessage(now.failed() == 0 ? "" : " " + now.failed() + " failed");
            }

            @Override
            public void close() {
                bar.close();
            }
        };
    }

    private void sayNowAndThen(BulkRun run) {
        if (System.nanoTime() - lastLine > LINE_EVERY_NANOS) {
            lastLine = System.nanoTime();
            surroundings.err().println(BulkText.progress(run));
        }
    }

    /** Writes the records that a run left to a CSV file (RFC 4180). */
    public void writeLeft(UUID id, Path file) {
        List<FailedRecord> left = runs.failures(id, Integer.MAX_VALUE);
        try (Writer writer = Files.newBufferedWriter(file, StandardCharsets.UTF_8);
                CSVPrinter csv = new CSVPrinter(
                        writer,
                        CSVFormat.RFC4180
                                .builder()
                                .setHeader("key", "failed", "reason")
                                .get())) {
            for (FailedRecord record : left) {
                csv.printRecord(record.key(), record.failed(), record.reason());
            }
        } catch (IOException failure) {
            throw new ToolException(
                    ExitStatus.FAILED,
                    "The file '" + file + "' can't be written: " + failure.getMessage(),
                    "The run is done all the same; 'runs show " + id + "' lists what it left.",
                    failure);
        }
    }

    /** How a run that this process worked on ends the process. */
    public static int exitStatus(BulkRun run) {
        return run.state() == BulkState.DONE && run.failed() == 0 ? ExitStatus.DONE : ExitStatus.SOME_FAILED;
    }
}
