package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Clock;
import java.time.Instant;
import java.time.Period;
import java.time.ZoneOffset;
import java.util.List;

/** Nothing is purged before its time, nor with anything whose time hasn't come. */
class RetentionTest {
    private static final By NIGHT = By.program("night shift");

    private static Vacancy at(Database database, RuleBook book, String moment) {
        return Vacancy.over(database.source(), book, Clock.fixed(Instant.parse(moment), ZoneOffset.UTC));
    }

    private static void delete(Vacancy vacancy, Selection selection) {
        vacancy.run(Approval.of(vacancy.plan(selection, By.user("odile"))));
    }

    private static Plan purge(Vacancy vacancy, String table) {
        return vacancy.plan(vacancy.pastRetention(table).skippingBlocked(), NIGHT);
    }

    private static Database apiary(Engine engine) {
        return engine.database()
                .run(
                        "create table keeper (keeper_id integer primary key, gone_at timestamp null)",
                        "create table hive (hive_id integer primary key, keeper_id integer not null, gone_at timestamp null,"
                                + " foreign key (keeper_id) references keeper (keeper_id))",
                        "insert into keeper values (1, null), (2, null), (3, null)",
                        "insert into hive values (10, 1, null), (20, 2, null)");
    }

    private static RuleBook book(SoftDelete hives) {
        return RuleBook.bySchema()
                .marker("keeper", Marker.timestamp("gone_at"))
                .soft("keeper", SoftDelete.defaults().keptFor(Period.ofDays(15)))
                .marker("hive", Marker.timestamp("gone_at"))
                .soft("hive", hives)
                .on("hive.keeper_id", Clause.cascade())
                .trail(Trail.defaults());
    }

    @OnEveryEngine
    void aChildWhoseOwnRetentionRunsKeepsItsParent(Engine engine) {
        Database database = apiary(engine);
        RuleBook book = book(SoftDelete.defaults().keptFor(Period.ofDays(90)));
        Ddl.of(database.source(), book).apply();
        delete(
                at(database, book, "2026-03-01T08:00:00Z"),
                Selection.of("keeper").keys(List.of(1, 3)));

        Plan early = purge(at(database, book, "2026-03-20T08:00:00Z"), "keeper");

        assertThat(early.counts()).containsOnlyKeys("keeper").containsEntry("keeper", 1L);
        assertThat(early.skipped()).singleElement().satisfies(left -> {
            assertThat(left.root().key().text()).isEqualTo("1");
            assertThat(left.blockers().get(0).reason()).contains("its own retention isn't over");
        });
        Plan late = purge(at(database, book, "2026-06-20T08:00:00Z"), "keeper");
        assertThat(late.counts()).containsEntry("keeper", 2L).containsEntry("hive", 1L);
    }

    @OnEveryEngine
    void aChildThatCameSinceIsNotTaken(Engine engine) {
        Database database = apiary(engine);
        RuleBook book = book(SoftDelete.defaults());
        Ddl.of(database.source(), book).apply();
        delete(
                at(database, book, "2026-03-01T08:00:00Z"),
                Selection.of("keeper").keys(List.of(1, 2)));
        database.run("insert into hive values (21, 2, null)");

        Vacancy later = at(database, book, "2026-03-20T08:00:00Z");
        Plan plan = purge(later, "keeper");

        assertThat(plan.counts()).containsEntry("keeper", 1L).containsEntry("hive", 1L);
        assertThat(plan.skipped()).hasSize(1);
        later.run(Approval.of(plan));
        assertThat(database.rows("select hive_id from hive order by hive_id")).containsExactly("20", "21");
    }

    /** Deleted two minutes before midnight, a record that is kept for a day isn't purged a minute after. */
    @OnEveryEngine
    void theWholeDayOfADeletionCounts(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id integer primary key, gone_on date)",
                        "insert into keeper values (1, null)");
        RuleBook book = RuleBook.bySchema()
                .marker("keeper", Marker.timestamp("gone_on"))
                .soft("keeper", SoftDelete.defaults().keptFor(Period.ofDays(1)))
                .trail(Trail.defaults());
        Ddl.of(database.source(), book).apply();
        delete(
                at(database, book, "2026-03-01T23:58:00Z"),
                Selection.of("keeper").key(1));

        assertThat(purge(at(database, book, "2026-03-02T00:01:00Z"), "keeper").isEmpty())
                .isTrue();
        assertThat(purge(at(database, book, "2026-03-02T23:59:00Z"), "keeper").isEmpty())
                .isTrue();
        assertThat(at(database, book, "2026-03-02T00:01:00Z")
                        .history()
                        .deleted("keeper", 1)
                        .get(0)
                        .daysLeft())
                .contains(1L);
        assertThat(purge(at(database, book, "2026-03-03T00:00:00Z"), "keeper").selected())
                .isEqualTo(1);
    }

    /** A month after the 31st of January is the end of February, for whoever counts, and to the second. */
    @OnEveryEngine
    void monthsAreCountedFromTheDeletion(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id integer primary key, gone_at timestamp null)",
                        "insert into keeper values (1, '2026-01-31 12:00:00'), (2, '2026-01-31 12:00:01'), (3, '2026-02-01 00:00:00')");
        RuleBook book = RuleBook.bySchema()
                .marker("keeper", Marker.timestamp("gone_at"))
                .soft("keeper", SoftDelete.defaults().keptFor(Period.ofMonths(1)));
        Ddl.of(database.source(), book).apply();

        assertThat(purge(at(database, book, "2026-02-28T11:59:59Z"), "keeper").isEmpty())
                .isTrue();
        assertThat(purge(at(database, book, "2026-02-28T12:00:00Z"), "keeper").selected())
                .isEqualTo(1);
        assertThat(purge(at(database, book, "2026-02-28T23:00:00Z"), "keeper").selected())
                .isEqualTo(2);
        assertThat(purge(at(database, book, "2026-03-01T00:00:00Z"), "keeper").selected())
                .isEqualTo(3);
    }
}
