package dev.vacancy.bench;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.rule.Ddl;
import dev.vacancy.schedule.ScheduleListener;
import dev.vacancy.schedule.ScheduledRuns;
import dev.vacancy.schedule.ScheduledWorker;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Locale;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** How many statements those cost the server that wait for something to do, by the server's own log. */
final class Idle {
    private static final int SETTLING = 3_000;
    private static final int ENDED_RUNS = 1_000;
    private static final String COLUMNS =
            "name, selected_table, selection, actor, reason, handed_over, rules, state, records, done, skipped, failed, deleted,"
                    + " started_at, ended_at, worked_at";
    private static final By BENCH = By.program("bench");

    private final int seconds;

    Idle(int seconds) {
        this.seconds = seconds;
    }

    /** What is done while statements are counted. */
    private interface Waiting {
        void during(HikariDataSource pool) throws SQLException;
    }

    /** Measures each way of waiting and says it as a table. */
    String text() throws IOException, SQLException {
        return "| waiting | statements a second |\n|---|---:|\n"
                + line("a worker on schedules and bulk runs, with none", this::schedules)
                + line(String.format(Locale.ROOT, "the same, with %,d bulk runs that have ended", ENDED_RUNS), pool -> {
                    endedRuns(pool);
                    schedules(pool);
                })
                + line("a worker on follow-ups, asking once a second", this::followUps)
                + line("a worker on a bulk run whose last chunk is another's", this::lastChunk);
    }

    private String line(String label, Waiting waiting) throws IOException, SQLException {
        Path log = Files.createTempDirectory("vacancy-idle");
        try (EmbeddedPostgres server = EmbeddedPostgres.builder()
                        .setServerConfig("fsync", "off")
                        .setServerConfig("logging_collector", "on")
                        .setServerConfig("log_directory", log.toString())
                        .setServerConfig("log_filename", "log")
                        .setServerConfig("log_statement", "all")
                        .start();
                HikariDataSource pool = Store.pool(server.getPostgresDatabase())) {
            try (Connection connection = pool.getConnection()) {
                Yard.fill(connection, "generate_series(1, %d) as s(n)", 10);
            }
            Ddl.of(pool, Workers.FOLLOWED, Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE)
                    .apply();
            counted = -1;
            this.log = log.resolve("log");
            waiting.during(pool);
        }
        String line = String.format(Locale.ROOT, "| %s | %.1f |%n", label, (double) counted / seconds);
        System.err.print(line);
        return line;
    }

    private long counted;
    private Path log = Path.of("");

    /** Counts what the server is sent meanwhile, once those who wait have begun to. */
    private void count() {
        sleep(SETTLING);
        long before = statements();
        sleep(seconds * 1_000L);
        counted = statements() - before;
    }

    private long statements() {
        try (Stream<String> lines = Files.lines(log)) {
            return lines.filter(line -> line.contains("LOG:  execute ") || line.contains("LOG:  statement: "))
                    .count();
        } catch (IOException failure) {
            throw new IllegalStateException(failure);
        }
    }

    private void schedules(HikariDataSource pool) {
        Vacancy vacancy = Vacancy.over(pool, Workers.FOLLOWED);
        try (ScheduledWorker worker =
                ScheduledRuns.over(pool, vacancy).worker(BulkOptions.defaults(), new ScheduleListener() {})) {
            worker.start();
            count();
        }
    }

    private static void endedRuns(HikariDataSource pool) throws SQLException {
        Vacancy vacancy = Vacancy.over(pool, Workers.FOLLOWED);
        BulkRun run = vacancy.bulk()
                .start(Approval.inChunks(vacancy.plan(Selection.of("hive").key(1), BENCH)), BulkOptions.defaults());
        vacancy.bulk().work(run.runId());
        try (Connection connection = pool.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("create temporary table another as select * from vacancy_bulk_run");
            statement.execute("insert into vacancy_bulk_run select gen_random_uuid()::text, " + COLUMNS
                    + " from another, generate_series(2, " + ENDED_RUNS + ")");
        }
    }

    private void followUps(HikariDataSource pool) {
        FollowUps followUps = Vacancy.over(pool, Workers.FOLLOWED)
                .withFollowUp(Workers.FOLLOW_UP, message -> {})
                .followUps();
        again(() -> {
            followUps.work();
            sleep(1_000);
        });
    }

    private void lastChunk(HikariDataSource pool) throws SQLException {
        Vacancy vacancy = Vacancy.over(pool, Workers.FOLLOWED);
        BulkRun run = vacancy.bulk()
                .start(Approval.inChunks(vacancy.plan(Selection.of("hive").key(1), BENCH)), BulkOptions.defaults());
        try (Connection other = pool.getConnection();
                Statement statement = other.createStatement()) {
            other.setAutoCommit(false);
            statement.execute("select * from vacancy_bulk_record for update");
            Thread worker = new Thread(() -> vacancy.bulk().work(run.runId()));
            worker.start();
            count();
            other.rollback();
            worker.join();
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
        }
    }

    private void again(Runnable work) {
        Thread worker = new Thread(() -> {
            while (!Thread.currentThread().isInterrupted()) {
                work.run();
            }
        });
        worker.start();
        count();
        worker.interrupt();
    }

    private static void sleep(long millis) {
        try {
            TimeUnit.MILLISECONDS.sleep(millis);
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
        }
    }
}
