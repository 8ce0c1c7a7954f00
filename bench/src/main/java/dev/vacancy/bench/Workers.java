package dev.vacancy.bench;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/** How much several processes do together on one server, by their number, and what those cost that have nothing to do. */
final class Workers {
    static final String FOLLOW_UP = "search";
    static final RuleBook RECORDED = RuleBook.bySchema().trail(Trail.defaults());
    static final RuleBook FOLLOWED = RECORDED.followUp("hive", FollowUp.named(FOLLOW_UP));

    private static final int STAYING = 4;
    private static final By BENCH = By.program("bench");

    private final int hives;
    private final int rounds;
    private final int[] processes;

    Workers(int hives, int rounds, int... processes) {
        this.hives = hives;
        this.rounds = rounds;
        this.processes = processes;
    }

    /** What is shared. */
    private enum Work {
        BULK("bulk run: records", "plain", 0),
        RECORDED_BULK("bulk run with a trail: records", "recorded", 0),
        MESSAGES("follow-ups that take no time: messages", "messages", 0),
        SLOW_MESSAGES("follow-ups that take 5 ms: messages", "messages", 5);

        private final String label;
        private final String what;
        private final long millis;

        Work(String label, String what, long millis) {
            this.label = label;
            this.what = what;
            this.millis = millis;
        }

        private RuleBook rules() {
            return switch (this) {
                case BULK -> RuleBook.bySchema();
                case RECORDED_BULK -> RECORDED;
                case MESSAGES, SLOW_MESSAGES -> FOLLOWED;
            };
        }

        private boolean isOfMessages() {
            return what.equals("messages");
        }
    }

    /**
     * Measures all of it and draws it.
     *
     * @param folder where the figure goes
     * @return the figures as a page
     */
    String page(Path folder) throws IOException, SQLException {
        Map<String, double[]> each = new LinkedHashMap<>();
        try (PostgresStore store = new PostgresStore(hives * STAYING)) {
            for (Work work : Work.values()) {
                double[] throughput = new double[processes.length];
                for (int i = 0; i < processes.length; i++) {
                    throughput[i] = median(store, work, processes[i]);
                }
                each.put(work.label, throughput);
            }
        }
        WorkersPlot.write(processes, each, folder.resolve("benchmarks-workers.svg"));
        return text(each);
    }

    private double median(PostgresStore store, Work work, int number) throws SQLException, IOException {
        double[] each = new double[rounds];
        for (int round = 0; round < rounds; round++) {
            try (HikariDataSource pool = Store.pool(store.fresh())) {
                Ddl.of(pool, work.rules(), Ddl.Part.BULK_RUNS).apply();
                Vacancy vacancy = Vacancy.over(pool, work.rules());
                try (Crew crew = Crew.of(number, pool, work.what, Long.toString(work.millis))) {
                    crew.work(prepare(vacancy, work, hives + 1, hives * 2));
                    Crew.Shift shift = crew.work(prepare(vacancy, work, 1, hives));
                    long amount = work.isOfMessages() ? hives : (long) hives * Yard.RECORDS_OF_A_HIVE;
                    each[round] = amount / shift.millis() * 1_000;
                    System.err.printf(
                            "%s, %d processes: %,.0f a second, %.2f cores%n",
                            work.label, number, each[round], shift.cores());
                }
                requireDone(pool, work);
            }
        }
        Arrays.sort(each);
        return each[rounds / 2];
    }

    /** Puts work there that concerns some hives; returns what a worker has to be told of it. */
    private static String prepare(Vacancy vacancy, Work work, int first, int last) {
        Selection some = Selection.of("hive").where(Criteria.column("hive_id").between(first, last));
        if (work.isOfMessages()) {
            vacancy.delete(some, BENCH);
            return "";
        }
        return vacancy.bulk()
                .start(Approval.inChunks(vacancy.plan(some, BENCH)), BulkOptions.defaults())
                .runId()
                .toString();
    }

    /** Whoever does less is no faster. */
    private void requireDone(HikariDataSource pool, Work work) {
        long left = Vacancy.over(pool)
                .list(Selection.of("hive").where(Criteria.column("hive_id").between(1, hives)), BENCH, 1)
                .size();
        if (work.isOfMessages()) {
            left += Vacancy.over(pool, FOLLOWED).followUps().count(FollowUpState.OPEN);
        }
        if (left > 0) {
            throw new IllegalStateException("Not all of the work is done");
        }
    }

    private String text(Map<String, double[]> each) {
        StringBuilder text = new StringBuilder("| a second, by processes |");
        Arrays.stream(processes)
                .forEach(number -> text.append(' ').append(number).append(" |"));
        text.append("\n|---|").append("---:|".repeat(processes.length)).append('\n');
        each.forEach((label, throughput) -> {
            text.append("| ").append(label).append(" |");
            Arrays.stream(throughput).forEach(done -> text.append(String.format(Locale.ROOT, " %,.0f |", done)));
            text.append('\n');
        });
        return text.toString();
    }
}
