package dev.vacancy.bench;

import com.sun.management.ThreadMXBean;
import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Vacancy;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import javax.sql.DataSource;

/**
 * Lets all contenders delete the same hives, each from fresh data, one after the other in a new order each round, so that
 * whatever else the machine does meets all of them.
 */
final class Race {
    /** One at a time, more hives than these only take longer. */
    private static final int MOST_ONE_BY_ONE = 200;

    private static final int WARMING_UP = 2;
    private static final ThreadMXBean THREAD = (ThreadMXBean) ManagementFactory.getThreadMXBean();

    private final Store store;
    private final int rounds;
    private final int lastHive;

    Race(Store store, int rounds, int hives) {
        this.store = store;
        this.rounds = rounds;
        this.lastHive = hives;
    }

    /** One timed stretch of work. */
    private record Lap(double millis, double bytes) {}

    /** Measures all contenders at a number of hives. */
    List<Figure> measure(int hives) throws SQLException, IOException {
        Map<String, List<Lap>> laps = new LinkedHashMap<>();
        List<Contender> contenders = new ArrayList<>(Arrays.stream(Contender.values())
                .filter(contender -> !contender.isOneByOne() || hives <= MOST_ONE_BY_ONE)
                .filter(contender -> contender.runsOn(store.name()))
                .toList());
        Random random = new Random(1887);
        for (int round = -WARMING_UP; round < rounds; round++) {
            for (Contender contender : contenders) {
                Map<String, Lap> measured = measured(contender, hives);
                if (round >= 0) {
                    measured.forEach((label, lap) -> laps.computeIfAbsent(label, missing -> new ArrayList<>())
                            .add(lap));
                }
            }
            Collections.shuffle(contenders, random);
        }
        return laps.entrySet().stream()
                .map(entry -> figure(entry.getKey(), hives, entry.getValue()))
                .toList();
    }

    /** A few hives go before the watch runs, so that connections and statements are warm for everyone. */
    private Map<String, Lap> measured(Contender contender, int hives) throws SQLException, IOException {
        Map<String, Lap> laps = new LinkedHashMap<>();
        try (HikariDataSource pool = Store.pool(store.fresh())) {
            Vacancy vacancy = Vacancy.over(pool);
            contender.delete(stage(pool, vacancy, new LinkedHashMap<>()), lastHive - 9, lastHive);
            contender.delete(stage(pool, vacancy, laps), 1, hives);
            require(pool, lastHive - 10 - hives);
        }
        return laps;
    }

    private static Contender.Stage stage(DataSource source, Vacancy vacancy, Map<String, Lap> laps) {
        return new Contender.Stage() {
            @Override
            public DataSource source() {
                return source;
            }

            @Override
            public Vacancy vacancy() {
                return vacancy;
            }

            @Override
            public void time(String label, Contender.Task task) throws SQLException {
                long bytes = THREAD.getCurrentThreadAllocatedBytes();
                long start = System.nanoTime();
                task.run();
                double millis = (System.nanoTime() - start) / 1e6;
                laps.put(label, new Lap(millis, THREAD.getCurrentThreadAllocatedBytes() - bytes));
            }
        };
    }

    /** A contender that deletes less would be quicker. */
    private static void require(DataSource source, int hives) throws SQLException {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement();
                var row = statement.executeQuery("select (select count(*) from hive),"
                        + " (select count(*) from frame_check) + (select count(*) from reading)"
                        + " + (select count(*) from treatment) + (select count(*) from inspection)")) {
            row.next();
            if (row.getLong(1) != hives || row.getLong(2) != hives * (Yard.RECORDS_OF_A_HIVE - 1L)) {
                throw new IllegalStateException("left are " + row.getLong(1) + " hives and " + row.getLong(2)
                        + " records below them, not " + hives + " hives with all of theirs");
            }
        }
    }

    private Figure figure(String label, int hives, List<Lap> laps) {
        double[] millis = laps.stream().mapToDouble(Lap::millis).sorted().toArray();
        double[] bytes = laps.stream().mapToDouble(Lap::bytes).sorted().toArray();
        return new Figure(
                store.name(),
                label,
                hives,
                median(millis),
                millis[0],
                median(bytes) / (hives * (double) Yard.RECORDS_OF_A_HIVE));
    }

    private static double median(double[] sorted) {
        int middle = sorted.length / 2;
        return sorted.length % 2 == 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
    }
}
