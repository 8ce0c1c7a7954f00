package dev.vacancy.bench;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.hibernate.Deletions;
import dev.vacancy.hibernate.EntityMapping;
import dev.vacancy.hibernate.HibernateTransactions;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import jakarta.persistence.CascadeType;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManager;
import jakarta.persistence.EntityManagerFactory;
import jakarta.persistence.Id;
import jakarta.persistence.Index;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.OneToMany;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.io.IOException;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.hibernate.jpa.HibernatePersistenceConfiguration;

/** Aggregates of ten records each, deleted by an entity manager and by Vacancy. */
final class Aggregates {
    /** How many there are for each that goes. */
    private static final int STAYING = 10;

    private static final int WARM_UPS = 2;

    private final int going;
    private final int rounds;

    Aggregates(int going, int rounds) {
        this.going = going;
        this.rounds = rounds;
    }

    /** A pier, with five berths and four lamps. */
    @Entity(name = "pier")
    static class Pier {
        @Id
        int id;

        @Version
        int version;

        @OneToMany(mappedBy = "pier", cascade = CascadeType.ALL, orphanRemoval = true)
        List<Berth> berths = new ArrayList<>();

        @OneToMany(mappedBy = "pier", cascade = CascadeType.ALL, orphanRemoval = true)
        List<Lamp> lamps = new ArrayList<>();
    }

    @Entity(name = "berth")
    @Table(indexes = @Index(columnList = "pier_id"))
    static class Berth {
        @Id
        int id;

        @ManyToOne(optional = false)
        Pier pier;
    }

    @Entity(name = "lamp")
    @Table(indexes = @Index(columnList = "pier_id"))
    static class Lamp {
        @Id
        int id;

        @ManyToOne(optional = false)
        Pier pier;
    }

    /** How they are deleted, in one transaction. */
    private enum Way {
        ENTITY_MANAGER("entity manager: find and remove each") {
            @Override
            void delete(EntityManager manager, Vacancy vacancy, Deletions<Pier, Integer> piers, List<Integer> ids) {
                ids.forEach(id -> manager.remove(manager.find(Pier.class, id)));
            }
        },
        OBJECTS("`Deletions`: find and delete each") {
            @Override
            void delete(EntityManager manager, Vacancy vacancy, Deletions<Pier, Integer> piers, List<Integer> ids) {
                ids.forEach(id -> piers.delete(piers.selectEntity(manager.find(Pier.class, id)), BY));
            }
        },
        ONE_BY_ONE("`Deletions`: delete each by id") {
            @Override
            void delete(EntityManager manager, Vacancy vacancy, Deletions<Pier, Integer> piers, List<Integer> ids) {
                ids.forEach(id -> piers.delete(id, BY));
            }
        },
        AT_ONCE("`Deletions`: delete all by their ids") {
            @Override
            void delete(EntityManager manager, Vacancy vacancy, Deletions<Pier, Integer> piers, List<Integer> ids) {
                piers.delete(piers.selectIds(ids), BY);
            }
        },
        RECORDS("`vacancy.delete`, all by their keys") {
            @Override
            void delete(EntityManager manager, Vacancy vacancy, Deletions<Pier, Integer> piers, List<Integer> ids) {
                vacancy.delete(Selection.of("pier").keys(ids), BY);
            }
        };

        private static final By BY = By.program("bench");

        private final String label;

        Way(String label) {
            this.label = label;
        }

        abstract void delete(EntityManager manager, Vacancy vacancy, Deletions<Pier, Integer> piers, List<Integer> ids);
    }

    /** Measures each way, in every round on fresh data, and says the medians as a page. */
    String page() throws IOException, SQLException {
        Map<Way, List<Double>> millis = new EnumMap<>(Way.class);
        try (EmbeddedPostgres server =
                EmbeddedPostgres.builder().setServerConfig("fsync", "off").start()) {
            for (int round = 0; round < rounds + WARM_UPS; round++) {
                for (Way way : Way.values()) {
                    double taken = measure(way, server.getPostgresDatabase());
                    if (round >= WARM_UPS) {
                        millis.computeIfAbsent(way, any -> new ArrayList<>()).add(taken);
                    }
                }
            }
        }
        return text(millis);
    }

    private double measure(Way way, DataSource source) throws SQLException {
        try (EntityManagerFactory factory = new HibernatePersistenceConfiguration("aggregates")
                .managedClasses(Pier.class, Berth.class, Lamp.class)
                .property("jakarta.persistence.nonJtaDataSource", source)
                .property("hibernate.hbm2ddl.auto", "create")
                .property("hibernate.jdbc.batch_size", "50")
                .createEntityManagerFactory()) {
            fill(source);
            EntityMapping mapping = EntityMapping.of(factory);
            AtomicReference<EntityManager> current = new AtomicReference<>();
            Vacancy vacancy = mapping.attach(
                    Vacancy.over(
                            source,
                            mapping.rules(),
                            HibernateTransactions.of(() -> Optional.ofNullable(current.get()))),
                    () -> Optional.ofNullable(current.get()));
            Deletions<Pier, Integer> piers = mapping.deletions(vacancy, Pier.class);
            List<Integer> ids = IntStream.range(0, going)
                    .map(number -> number * STAYING)
                    .boxed()
                    .toList();
            long start = System.nanoTime();
            factory.runInTransaction(manager -> {
                current.set(manager);
                way.delete(manager, vacancy, piers, ids);
            });
            double taken = (System.nanoTime() - start) / 1e6;
            requireGone(source);
            return taken;
        }
    }

    private void fill(DataSource source) throws SQLException {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            int all = going * STAYING;
            statement.execute(
                    "insert into pier (id, version) select n, 0 from generate_series(0, " + (all - 1) + ") s(n)");
            statement.execute("insert into berth (id, pier_id) select n, n % " + all + " from generate_series(0, "
                    + (all * 5 - 1) + ") s(n)");
            statement.execute("insert into lamp (id, pier_id) select n, n % " + all + " from generate_series(0, "
                    + (all * 4 - 1) + ") s(n)");
            statement.execute("analyze");
        }
    }

    /** A way that deletes something else is no faster. */
    private void requireGone(DataSource source) throws SQLException {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(
                        "select (select count(*) from pier) + (select count(*) from berth) + (select count(*) from lamp)")) {
            row.next();
            long left = row.getLong(1);
            if (left != (long) going * (STAYING - 1) * 10) {
                throw new IllegalStateException(left + " records are left");
            }
        }
    }

    private String text(Map<Way, List<Double>> millis) {
        double own = Figure.median(millis.get(Way.ENTITY_MANAGER));
        StringBuilder page = new StringBuilder("| " + going + " piers of " + going * STAYING
                + ", with 5 berths and 4 lamps each | median ms | times as fast |\n|---|---:|---:|\n");
        millis.forEach((way, taken) -> page.append(String.format(
                Locale.ROOT, "| %s | %,.1f | %.1f |%n", way.label, Figure.median(taken), own / Figure.median(taken))));
        return page.toString();
    }
}
