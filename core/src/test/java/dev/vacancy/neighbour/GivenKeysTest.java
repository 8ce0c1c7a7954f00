package dev.vacancy.neighbour;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.sql.Date;
import java.sql.Time;
import java.sql.Timestamp;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.List;

/** The values that an application has at hand find the record whose key they are, and none beside it. */
class GivenKeysTest {
    private static final By ODILE = By.user("odile");

    /** The temper of a colony, as an application would name it. */
    private enum Temper {
        CALM,
        CROSS
    }

    @OnEveryEngine
    void bytesAreTakenAsBytes(Engine engine) {
        Database database = table(engine, engine == Engine.POSTGRESQL ? "bytea" : "varbinary(8)");
        String prefix = engine == Engine.POSTGRESQL ? "'\\x" : "x'";
        database.run("insert into tag values (" + prefix + "00ff'), (" + prefix + "00')");

        assertFinds(database, new byte[] {0, (byte) 0xff}, new byte[] {0});
        assertFinds(database, "00ff", "00");
    }

    @OnEveryEngine
    void numbersCountByTheirValue(Engine engine) {
        Database database = table(engine, "bigint");
        database.run("insert into tag values (10000000), (1000), (1)");

        assertFinds(database, 1.0E7, 1.0);
        assertFinds(database, new BigDecimal("1E+3"), BigDecimal.ONE);
        assertFinds(database, new BigDecimal("1000.00"), BigInteger.ONE);
        assertFinds(database, (short) 1000, (byte) 1);
    }

    @OnEveryEngine
    void smallFractionsCountByTheirValue(Engine engine) {
        Database database = table(engine, "numeric(12, 4)");
        database.run("insert into tag values (0.0001), (0.0002), (1000)");

        assertFinds(database, 0.0001, 0.0002);
        assertFinds(database, new BigDecimal("1E+3"), 1.0E-4);
    }

    @OnEveryEngine
    void jdbcsDatesAndTimesAreWhatTheyShow(Engine engine) {
        Database days = table(engine, "date");
        days.run("insert into tag values ('2026-05-01'), ('2026-05-02')");
        assertFinds(days, Date.valueOf(LocalDate.of(2026, 5, 1)), LocalDate.of(2026, 5, 2));

        Database times = table(engine, "time");
        times.run("insert into tag values ('08:30:00'), ('08:30:01')");
        if (engine != Engine.SQLITE) {
            assertFinds(times, Time.valueOf(LocalTime.of(8, 30)), LocalTime.of(8, 30, 1));
        }

        Database moments = table(engine, engine == Engine.MARIADB ? "datetime(6)" : "timestamp(6)");
        moments.run("insert into tag values ('2026-05-01 08:00:00.000001'), ('2026-05-01 08:00:00.000002')");
        assertFinds(
                moments,
                Timestamp.valueOf("2026-05-01 08:00:00.000001"),
                Timestamp.valueOf("2026-05-01 08:00:00.000002"));
    }

    @OnEveryEngine
    void aPointInTimeIsTheSameInEachZone(Engine engine) {
        if (engine == Engine.SQLITE) {
            return; // it has no type for one
        }
        Database database = table(engine, engine == Engine.MARIADB ? "timestamp" : "timestamp(6) with time zone");
        ZonedDateTime first = ZonedDateTime.of(2026, 5, 1, 10, 0, 0, 0, ZoneId.of("Europe/Lisbon"));
        database.run(
                engine == Engine.MARIADB
                        ? "insert into tag values (from_unixtime(" + first.toEpochSecond() + ")), (from_unixtime("
                                + (first.toEpochSecond() + 3600) + "))"
                        : "insert into tag values ('2026-05-01 09:00:00+00'), ('2026-05-01 10:00:00+00')");

        assertFinds(
                database,
                first.withZoneSameInstant(ZoneId.of("Asia/Kolkata")),
                first.plusHours(1).toInstant());
    }

    @OnEveryEngine
    void anEnumGoesByItsName(Engine engine) {
        if (engine == Engine.POSTGRESQL) {
            Database database = engine.database().run("create type temper as enum ('CALM', 'CROSS')");
            database.run("create table tag (id temper primary key)", "insert into tag values ('CALM'), ('CROSS')");
            assertFinds(database, Temper.CALM, Temper.CROSS);
            return;
        }
        Database database = table(engine, engine == Engine.SQLITE ? "varchar(9)" : "enum('CALM', 'CROSS')");
        database.run("insert into tag values ('CALM'), ('CROSS')");
        assertFinds(database, Temper.CALM, Temper.CROSS);
    }

    @OnEveryEngine
    void theTwoZerosAreOneKeyOrTwoAsTheDatabaseHasIt(Engine engine) {
        Database database = table(engine, "double precision");
        String negative = engine == Engine.POSTGRESQL ? "'-0'" : "-0.0e0";
        database.run("insert into tag values (" + negative + "), (1)");
        boolean two = accepts(database, "insert into tag values (0)");
        Vacancy vacancy = Vacancy.over(database.source());

        Plan read = vacancy.plan(Selection.of("tag").where(Criteria.column("id").lessThan(1)), ODILE);
        assertThat(read.roots()).hasSize(two ? 2 : 1);
        Object key = read.roots().get(0).key().values().get(0);
        Plan plan = vacancy.plan(Selection.of("tag").key(key), ODILE);
        vacancy.run(Approval.of(plan));

        assertThat(plan.counts()).containsEntry("tag", 1L);
        assertThat(database.count("tag")).isEqualTo(two ? 2 : 1);
        assertThat(vacancy.plan(Selection.of("tag").key(0.0), ODILE).isEmpty()).isEqualTo(!two);
    }

    private static boolean accepts(Database database, String statement) {
        try {
            database.run(statement);
            return true;
        } catch (IllegalStateException refused) {
            return false;
        }
    }

    private static Database table(Engine engine, String type) {
        return engine.database().run("create table tag (id " + type + " primary key)");
    }

    /** Finds two records by their keys, and deletes exactly the first. */
    private static void assertFinds(Database database, Object key, Object other) {
        Vacancy vacancy = Vacancy.over(database.source());
        long before = database.count("tag");

        Plan both = vacancy.plan(Selection.of("tag").keys(List.of(List.of(key), List.of(other))), ODILE);
        assertThat(both.roots()).as(key + " and " + other).hasSize(2);
        Plan one = vacancy.plan(Selection.of("tag").key(key), ODILE);
        vacancy.run(Approval.of(one));

        assertThat(database.count("tag")).as("without " + key).isEqualTo(before - 1);
        assertThat(vacancy.plan(Selection.of("tag").key(key), ODILE).isEmpty()).isTrue();
        assertThat(vacancy.plan(Selection.of("tag").key(other), ODILE).roots()).hasSize(1);
        restore(database, one);
    }

    private static void restore(Database database, Plan deleted) {
        try (java.sql.Connection connection = database.connect();
                java.sql.PreparedStatement insert = connection.prepareStatement("insert into tag values (?)")) {
            Object key = deleted.roots().get(0).key().values().get(0);
            if (key instanceof Number) {
                insert.setObject(1, key);
                insert.executeUpdate();
            } else if (key instanceof java.nio.ByteBuffer bytes) {
                byte[] copy = new byte[bytes.remaining()];
                bytes.duplicate().get(copy);
                insert.setBytes(1, copy);
                insert.executeUpdate();
            }
        } catch (java.sql.SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }
}
