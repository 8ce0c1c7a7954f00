package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A parent that stays says who changed it last, and when, once a child of it is marked. */
class TouchedTest {
    private static final By ODILE = By.user("odile").because("swarmed");
    private static final Clock MARCH = Clock.fixed(Instant.parse("2026-03-01T08:00:00Z"), ZoneOffset.UTC);
    private static final RuleBook BOOK = RuleBook.bySchema()
            .marker("hive", Marker.timestamp("left_at"))
            .soft("hive")
            .modifiedColumns("apiary", "changed_by", "changed_on")
            .modifiedColumns("hive", "changed_by", "changed_on")
            .versionColumn("apiary.row_version")
            .on("hive.apiary_id", Clause.cascade())
            .on("hive.parent_id", Clause.keep())
            .trail(Trail.defaults());
    private static final String APIARIES =
            "select apiary_id, changed_by, changed_on, row_version from apiary order by apiary_id";

    private static Database larkmoor(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table apiary (apiary_id integer primary key, changed_by varchar(20), changed_on date,"
                                + " row_version integer not null)",
                        "create table hive (hive_id integer primary key, apiary_id integer, parent_id integer,"
                                + " left_at timestamp null, changed_by varchar(20), changed_on date,"
                                + " foreign key (apiary_id) references apiary (apiary_id),"
                                + " foreign key (parent_id) references hive (hive_id))",
                        "insert into apiary values (1, 'una', '2025-01-01', 1), (2, null, null, 1), (3, null, null, 1)",
                        "insert into hive values (10, 1, null, null, null, null), (11, 1, 10, null, null, null)",
                        "insert into hive values (20, 2, 10, null, null, null), (30, null, null, null, null, null)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    @OnEveryEngine
    void eachParentOfAMarkedRecordIsTouchedOnceAndNoOther(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);

        Plan plan = vacancy.plan(Selection.of("hive").keys(List.of(10, 11, 30)), ODILE);
        vacancy.run(Approval.of(plan));

        assertThat(plan.touched()).containsOnly(Map.entry("apiary", 1L));
        assertThat(database.rows(APIARIES)).containsExactly("1|odile|2026-03-01|2", "2|null|null|1", "3|null|null|1");
        assertThat(vacancy.history().entries(HistoryQuery.all().ofTable("apiary")))
                .singleElement()
                .satisfies(entry -> {
                    assertThat(entry.action()).isEqualTo("touched");
                    assertThat(entry.before().orElseThrow()).containsEntry("changed_by", "una");
                });
    }

    @OnEveryEngine
    void parentsInTheSameTableAndManyOnesAreTouchedToo(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);

        Plan plan = vacancy.plan(Selection.of("hive").where(Criteria.parse("hive_id = 20 or hive_id = 11")), ODILE);
        vacancy.run(Approval.of(plan));

        assertThat(plan.touched()).containsOnly(Map.entry("apiary", 2L), Map.entry("hive", 1L));
        assertThat(database.rows(APIARIES))
                .containsExactly("1|odile|2026-03-01|2", "2|odile|2026-03-01|2", "3|null|null|1");
        assertThat(database.rows("select hive_id, changed_by from hive order by hive_id"))
                .containsExactly("10|odile", "11|null", "20|null", "30|null");
    }

    @OnEveryEngine
    void aRestoreLeavesWhatIsSaidOfTheLastChange(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);
        var outcome = vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(20), ODILE)));

        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), ODILE);
        vacancy.history().restore(Approval.of(plan));

        assertThat(plan.counts()).containsOnly(Map.entry("hive", 1L));
        assertThat(plan.left()).contains("Who changed apiary last stays as it is.");
        assertThat(database.rows("select left_at from hive where hive_id = 20")).containsExactly("null");
        assertThat(database.rows(APIARIES)).contains("2|odile|2026-03-01|2");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void whatGoesForGoodAndColumnsThatDoNotFitAreTold(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, MARCH);

        assertThat(vacancy.plan(Selection.of("hive").key(30).hard(), ODILE).touched())
                .isEmpty();
        assertThatThrownBy(
                        () -> Vacancy.over(database.source(), BOOK.modifiedColumns("hive", "changed_on", "changed_by")))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("changed_by");
    }
}
