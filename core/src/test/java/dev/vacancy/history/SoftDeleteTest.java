package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.Period;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;

class SoftDeleteTest {
    private static final By ODILE = By.user("odile").because("moved away");
    private static final Clock MARCH = Clock.fixed(Instant.parse("2026-03-01T08:00:00Z"), ZoneOffset.UTC);

    private static final RuleBook BOOK = RuleBook.bySchema()
            .marker("keeper", Marker.timestamp("left_at"))
            .soft(
                    "keeper",
                    SoftDelete.defaults()
                            .deletedBy("left_by", "left_because")
                            .keptFor(Period.ofDays(15))
                            .uniqueWhileActive("email"))
            .marker("hive", Marker.flag("state", "kept", "given up"))
            .soft("hive")
            .marker("stay", Marker.endDate("until_date"))
            .soft("stay")
            .on("stay.keeper_id", Clause.cascade())
            .versionColumn("keeper.row_version", "inspection.row_version")
            .trail(Trail.defaults());

    /** A keeper with two hives, one of them given up before; inspections of the hives stand in a table without a marker. */
    private static Database larkmoor(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table keeper (keeper_id integer primary key, email varchar(40), left_at timestamp null,"
                        + " left_by varchar(20), left_because varchar(10), row_version integer not null)",
                "create table hive (hive_id integer primary key, keeper_id integer, state varchar(10) not null,"
                        + " foreign key (keeper_id) references keeper (keeper_id) on delete cascade)",
                "create table stay (stay_id integer primary key, keeper_id integer not null, until_date date,"
                        + " foreign key (keeper_id) references keeper (keeper_id))",
                "create table inspection (inspection_id integer primary key, hive_id integer,"
                        + " keeper_id integer, row_version integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade,"
                        + " foreign key (keeper_id) references keeper (keeper_id) on delete set null)",
                "insert into keeper values (1, 'odo@larkmoor.example', null, null, null, 7),"
                        + " (2, 'una@larkmoor.example', null, null, null, 1)",
                "insert into hive values (10, 1, 'kept'), (11, 1, 'given up'), (20, 2, 'kept')",
                "insert into stay values (100, 1, null), (101, 1, '2025-01-31'), (102, 1, '9999-12-31')",
                "insert into inspection values (1000, 10, 2, 1), (1001, 20, 1, 1), (1002, 11, 1, null)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    private static Vacancy vacancy(Database database) {
        return Vacancy.over(database.source(), BOOK, MARCH);
    }

    private static Outcome delete(Vacancy vacancy, Selection selection) {
        return vacancy.run(Approval.of(vacancy.plan(selection, ODILE)));
    }

    @OnEveryEngine
    void aKeeperIsMarkedWithAllThatIsActiveBelow(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);

        Plan plan = vacancy.plan(Selection.of("keeper").key(1), ODILE);
        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(plan.isSoft()).isTrue();
        assertThat(plan.isReversible()).isTrue();
        assertThat(plan.marked()).containsExactlyInAnyOrder("keeper", "hive", "stay");
        assertThat(outcome.counts())
                .containsOnly(
                        Map.entry("keeper", 1L),
                        Map.entry("hive", 1L),
                        Map.entry("stay", 2L),
                        Map.entry("inspection", 1L));
        assertThat(outcome.marked()).containsExactlyInAnyOrder("keeper", "hive", "stay");
        assertThat(database.rows("select left_by, left_because, row_version from keeper where left_at is not null"))
                .containsExactly("odile|moved away|8");
        assertThat(database.rows("select hive_id, state from hive order by hive_id"))
                .containsExactly("10|given up", "11|given up", "20|kept");
        assertThat(database.rows("select stay_id from stay where until_date = '2026-03-01' order by stay_id"))
                .containsExactly("100", "102");
        assertThat(database.rows("select inspection_id, keeper_id, row_version from inspection order by inspection_id"))
                .containsExactly("1001|null|2", "1002|null|1");
    }

    @OnEveryEngine
    void onlyTheSameRunBringsExactlyThoseBack(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        List<String> before = database.contents("hive", "stay");
        Outcome outcome = delete(vacancy, Selection.of("keeper").key(1));

        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), By.user("una"));
        RestoreOutcome back =
                vacancy.history().restore(Question.about(plan).answer("yes").orElseThrow());

        assertThat(Question.about(plan).text())
                .isEqualTo("Bring back 5 records that odile deleted, and put back 2 links?");
        assertThat(back.counts()).isEqualTo(outcome.counts());
        assertThat(database.contents("hive", "stay")).isEqualTo(before);
        assertThat(database.rows("select left_at, left_by, left_because, row_version from keeper where keeper_id = 1"))
                .containsExactly("null|null|null|9");
        assertThat(database.rows("select inspection_id, hive_id, keeper_id from inspection order by inspection_id"))
                .containsExactly("1000|10|2", "1001|20|1", "1002|11|1");
        assertThatThrownBy(() -> vacancy.history().planRestore(outcome.runId(), ODILE))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("was undone by una");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void whatIsDeletedAlreadyIsToldAndStaysAsItIs(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        delete(vacancy, Selection.of("keeper").key(1));
        List<String> before = database.contents("keeper", "hive", "stay", "inspection");

        Plan again = vacancy.plan(Selection.of("keeper").keys(List.of(1, 3)), ODILE);

        assertThat(again.alreadyDeleted()).extracting(key -> key.text()).containsExactly("1");
        assertThat(again.notFound()).extracting(key -> key.text()).containsExactly("3");
        assertThat(again.isEmpty()).isTrue();
        assertThat(vacancy.run(Approval.of(again)).total()).isZero();
        assertThat(database.contents("keeper", "hive", "stay", "inspection")).isEqualTo(before);
    }

    @OnEveryEngine
    void forGoodTakesTheSoftDeletedChildrenToo(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        List<String> before = database.contents("keeper", "hive", "stay", "inspection");

        Plan plan = vacancy.plan(Selection.of("keeper").key(1).hard(), ODILE);
        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(plan.isSoft()).isFalse();
        assertThat(plan.inactive()).containsOnly(Map.entry("hive", 1L), Map.entry("stay", 1L));
        assertThat(Question.about(plan).text()).contains("for good");
        assertThat(database.count("keeper")).isEqualTo(1);
        assertThat(database.count("hive")).isEqualTo(1);
        assertThat(database.count("stay")).isZero();

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE)));

        assertThat(database.contents("keeper", "hive", "stay")).isEqualTo(before.subList(0, 3));
        assertThat(database.rows("select inspection_id, hive_id, keeper_id from inspection order by inspection_id"))
                .containsExactly("1000|10|2", "1001|20|1", "1002|11|1");
    }

    @OnEveryEngine
    void theDeletedAreListedAndPurgedOnceTheirTimeIsUp(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Outcome outcome = delete(vacancy, Selection.of("keeper").key(1));
        Vacancy later = Vacancy.over(
                database.source(), BOOK, Clock.fixed(Instant.parse("2026-03-12T08:00:00Z"), ZoneOffset.UTC));
        Vacancy muchLater = Vacancy.over(
                database.source(), BOOK, Clock.fixed(Instant.parse("2026-03-17T08:00:00Z"), ZoneOffset.UTC));

        assertThat(later.history().deleted("keeper", 10)).singleElement().satisfies(deleted -> {
            assertThat(deleted.record().key().text()).isEqualTo("1");
            assertThat(deleted.run()).contains(outcome.runId());
            assertThat(deleted.by()).contains(ODILE);
            assertThat(deleted.daysLeft()).contains(4L);
        });
        assertThat(later.plan(later.pastRetention("keeper"), ODILE).isEmpty()).isTrue();
        Plan purge = muchLater.plan(muchLater.pastRetention("keeper"), ODILE);
        assertThat(muchLater.run(Approval.of(purge)).counts())
                .containsEntry("keeper", 1L)
                .containsEntry("hive", 2L);
        assertThat(database.rows("select keeper_id from keeper")).containsExactly("2");
        assertThat(muchLater.history().entries(HistoryQuery.all().ofRecord("keeper", "1")))
                .extracting(TrailEntry::action)
                .containsExactly("purged", "marked");
    }

    @OnEveryEngine
    void aReturningKeeperClashesWithWhoeverHasTheAddressNow(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Outcome outcome = delete(vacancy, Selection.of("keeper").key(1));
        database.run("insert into keeper values (3, 'odo@larkmoor.example', null, null, null, 1)");

        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), ODILE);

        assertThat(plan.conflicts()).singleElement().satisfies(conflict -> {
            assertThat(conflict.key()).isEqualTo("1");
            assertThat(conflict.reason()).isEqualTo("its email is taken by keeper 3");
        });
        assertThatThrownBy(() -> Approval.of(plan)).hasMessageContaining("Delete or change keeper 3 first.");
    }

    @OnEveryEngine
    void theActiveAreToldForTheApplicationsOwnQueries(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        delete(vacancy, Selection.of("keeper").key(1));

        assertThat(database.rows("select k.keeper_id from keeper k where "
                        + vacancy.active("keeper").sql("k")))
                .containsExactly("2");
        assertThat(database.rows("select keeper_id from active_keeper")).containsExactly("2");
        assertThat(database.rows("select h.hive_id from hive h where "
                        + vacancy.active("hive").sql("h")))
                .containsExactly("20");
        assertThat(database.rows("select count(*) from keeper k where "
                        + vacancy.active("keeper")
                                .asOf(LocalDate.of(2026, 2, 1))
                                .sql("k")))
                .containsExactly("2");
        assertThat(vacancy.plan(
                                Selection.of("keeper")
                                        .where(vacancy.active("keeper").criteria())
                                        .hard(),
                                ODILE)
                        .selected())
                .isEqualTo(1);
        assertThatThrownBy(() -> vacancy.active("hive").asOf(LocalDate.of(2026, 2, 1)))
                .hasMessageContaining("A flag doesn't say since when");
        assertThatThrownBy(() -> vacancy.active("inspection")).hasMessageContaining("Give the table a marker");
    }

    @OnEveryEngine
    void someGoForGoodByTheirRule(Engine engine) {
        Database database = larkmoor(engine);
        RuleBook book = RuleBook.bySchema()
                .marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper", SoftDelete.defaults().hardWhere("email like 'una%'"))
                .on("stay.keeper_id", Clause.keep())
                .on("hive.keeper_id", Clause.keep())
                .trail(Trail.defaults());
        Vacancy vacancy = Vacancy.over(database.source(), book, MARCH);

        assertThat(vacancy.plan(Selection.of("keeper").key(1), ODILE).isSoft()).isTrue();
        assertThat(vacancy.plan(Selection.of("keeper").key(1), ODILE).counts()).containsOnly(Map.entry("keeper", 1L));
        assertThat(vacancy.plan(Selection.of("keeper").key(2), ODILE).isSoft()).isFalse();
        assertThat(vacancy.plan(Selection.of("keeper").key(2), ODILE).counts()).containsEntry("hive", 1L);
        assertThatThrownBy(() -> vacancy.plan(Selection.of("keeper").keys(List.of(1, 2)), ODILE))
                .hasMessageContaining("Of the 2 selected records of keeper 1 go for good");
    }

    @OnEveryEngine
    void whatCannotBeMarkedIsRefusedAtTheStart(Engine engine) {
        Database database = larkmoor(engine);
        RuleBook wrong = RuleBook.bySchema()
                .soft("inspection")
                .marker("hive", Marker.flag("state", "kept"))
                .soft("hive")
                .marker("stay", Marker.flag("until_date", "2026-01-01"))
                .on("inspection.hive_id", Clause.keep());

        assertThatThrownBy(() -> Vacancy.over(database.source(), wrong))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("inspection can't be deleted softly")
                .hasMessageContaining("doesn't say what deleted records have there");
    }
}
