package dev.vacancy.bench;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Ddl;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.UUID;

/** Lets several processes share the chunks of a bulk run. */
final class Crew {
    private final Store store;
    private final int rounds;

    Crew(Store store, int rounds) {
        this.store = store;
        this.rounds = rounds;
    }

    /**
     * What a number of processes took for a bulk run.
     *
     * @param processes how many there were
     * @param hives how many hives went, with all below them
     * @param millis the median over all rounds
     */
    record Shared(int processes, int hives, double millis) {}

    /** Measures one, two and four processes that delete the same hives, from when all are ready to when all have ended. */
    List<Shared> measure(int hives) throws SQLException, IOException {
        List<Shared> measured = new ArrayList<>();
        for (int processes : new int[] {1, 2, 4}) {
            double[] millis = new double[rounds];
            for (int round = 0; round < rounds; round++) {
                millis[round] = once(hives, processes);
            }
            Arrays.sort(millis);
            measured.add(new Shared(processes, hives, millis[rounds / 2]));
        }
        return measured;
    }

    private double once(int hives, int processes) throws SQLException, IOException {
        try (HikariDataSource pool = Store.pool(store.fresh())) {
            Vacancy vacancy = Vacancy.over(pool);
            Ddl.of(pool, Ddl.Part.BULK_RUNS).apply();
            Selection first =
                    Selection.of("hive").where(Criteria.column("hive_id").between(1, hives));
            BulkRun run = vacancy.bulk()
                    .start(Approval.inChunks(vacancy.plan(first, By.program("bench"))), BulkOptions.defaults());
            List<Process> crew = new ArrayList<>();
            for (int i = 0; i < processes; i++) {
                crew.add(start(pool, run));
            }
            for (Process worker : crew) {
                hear(worker);
            }
            long start = System.nanoTime();
            for (Process worker : crew) {
                worker.getOutputStream().write('\n');
                worker.getOutputStream().flush();
            }
            for (Process worker : crew) {
                hear(worker);
            }
            double millis = (System.nanoTime() - start) / 1e6;
            long done = vacancy.bulk().run(run.runId()).done();
            if (done != hives) {
                throw new IllegalStateException(processes + " processes deleted " + done + " of " + hives + " hives");
            }
            return millis;
        }
    }

    /** With the compiler that the command-line tool is started with: a better one takes longer than all the work. */
    private static Process start(HikariDataSource pool, BulkRun run) throws SQLException, IOException {
        try (Connection connection = pool.getConnection()) {
            return new ProcessBuilder(
                            Path.of(System.getProperty("java.home"), "bin", "java")
                                    .toString(),
                            "-XX:TieredStopAtLevel=1",
                            "-cp",
                            System.getProperty("java.class.path"),
                            Crew.class.getName(),
                            connection.getMetaData().getURL(),
                            connection.getMetaData().getUserName(),
                            run.runId().toString())
                    .redirectError(ProcessBuilder.Redirect.DISCARD)
                    .start();
        }
    }

    /** Waits for a process to say that it is ready, or done. */
    private static void hear(Process worker) throws IOException {
        int heard = worker.getInputStream().read();
        while (heard >= 0 && heard != '\n') {
            heard = worker.getInputStream().read();
        }
        if (heard < 0) {
            throw new IllegalStateException("A process that works on the bulk run has failed");
        }
    }

    /**
     * Works on a bulk run as soon as a line comes.
     *
     * @param arguments the database's URL, its user, and the run
     * @throws IOException when the line can't be read
     */
    public static void main(String[] arguments) throws IOException {
        try (HikariDataSource source = new HikariDataSource()) {
            source.setJdbcUrl(arguments[0]);
            source.setUsername(arguments[1]);
            source.setMaximumPoolSize(2);
            Vacancy vacancy = Vacancy.over(source);
            System.out.println("ready");
            if (System.in.read() >= 0) {
                UUID run = UUID.fromString(arguments[2]);
                vacancy.bulk().work(run, BulkOptions.defaults(), Exemption.none(), progress -> {});
                System.out.println("done");
            }
        }
    }
}
