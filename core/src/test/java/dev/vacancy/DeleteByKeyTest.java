package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.catalog.RecordContent;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Schemas;
import java.sql.Connection;
import java.sql.Statement;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;

/** The whole way: plan, approve, run. */
class DeleteByKeyTest {
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final String[] HIVE_TABLES = {"hive", "inspection", "frame_check", "treatment", "queen", "photo"};

    @OnEveryEngine
    void aHiveGoesWithAllThatDependsOnItAndNothingElse(Engine engine) {
        Database larkmoor = Schemas.larkmoor(engine);
        Vacancy vacancy = Vacancy.over(larkmoor.source());

        Plan plan = vacancy.plan(Selection.of("hive").key(12), ODILE);
        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(outcome.counts()).isEqualTo(plan.counts()).contains(entry("hive", 1L), entry("reading", 500L));
        assertThat(outcome.changed()).containsExactly(entry("queen.hive_id", 1L));
        assertThat(larkmoor.count("hive")).isEqualTo(39);
        assertThat(larkmoor.count("reading")).isEqualTo(19_500);
        assertThat(larkmoor.count("inspection")).isEqualTo(400 - plan.counts().get("inspection"));
        assertThat(larkmoor.count("frame_check"))
                .isEqualTo(3_000 - plan.counts().get("frame_check"));
        assertThat(larkmoor.rows("select hive_id from queen where queen_id = 12"))
                .containsExactly("null");
        assertThat(larkmoor.count("queen")).isEqualTo(60);
    }

    @OnEveryEngine
    void theOutcomeSaysWhoWhyWhenAndWhatWasDeletedWithAllItsValues(Engine engine) {
        Database larkmoor = Schemas.larkmoor(engine);
        Instant noon = Instant.parse("2026-06-01T12:00:00Z");
        Vacancy vacancy = Vacancy.over(larkmoor.source(), RuleBook.bySchema(), Clock.fixed(noon, ZoneOffset.UTC));

        Outcome outcome =
                vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").keys(List.of(12, 13)), ODILE)));

        assertThat(outcome.runId()).isNotNull();
        assertThat(outcome.by().actor()).isEqualTo("odile");
        assertThat(outcome.by().reason()).hasValue("colony lost");
        assertThat(outcome.startedAt()).isEqualTo(noon);
        assertThat(outcome.took()).isZero();
        assertThat(outcome.deleted())
                .extracting(RecordContent::label)
                .containsExactly(Optional.of("Bramble Three"), Optional.of("Bramble Four"));
        assertThat(outcome.deleted().get(0).values())
                .containsOnlyKeys("hive_id", "name", "apiary_id", "queen_id", "wood", "set_up_on")
                .contains(entry("hive_id", 12), entry("apiary_id", 2), entry("queen_id", 12));
        assertThat(outcome.deleted().get(0).get("SET_UP_ON")).isInstanceOf(LocalDate.class);
    }

    @OnEveryEngine
    void threeLevelsOfCascadeGoFromTheDeepestUp(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());

        Outcome outcome =
                vacancy.run(Approval.of(vacancy.plan(Selection.of("apiary").key(1), ODILE)));

        assertThat(outcome.counts())
                .containsOnly(
                        entry("apiary", 1L), entry("hive", 1L), entry("inspection", 2L), entry("frame_check", 2L));
        assertThat(database.rows("select hive_id from hive")).containsExactly("2");
        assertThat(database.rows("select inspection_id from inspection")).containsExactly("3");
        assertThat(database.rows("select inspection_id, frame_no from frame_check"))
                .containsExactly("3|1");
    }

    @OnEveryEngine
    void aChildInsertedAfterTheApprovalMakesItStaleAndNothingIsChanged(Engine engine) {
        Database larkmoor = Schemas.larkmoor(engine);
        Vacancy vacancy = Vacancy.over(larkmoor.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(12), ODILE));
        larkmoor.run(
                "insert into inspection values (9001, 12, 1, '2026-06-01', 'late')",
                "insert into reading values (90001, 12, '2026-06-01 10:00:00', 30, 34)",
                "insert into reading values (90002, 12, '2026-06-01 11:00:00', 30, 34)");
        List<String> before = larkmoor.contents(HIVE_TABLES);

        assertThatThrownBy(() -> vacancy.run(approval))
                .isInstanceOfSatisfying(
                        StalePlanException.class,
                        stale -> assertThat(stale.differences())
                                .containsExactlyInAnyOrder("1 more of inspection", "2 more of reading"))
                .hasMessageContaining("make a new plan");
        assertThat(larkmoor.contents(HIVE_TABLES)).isEqualTo(before);
    }

    @OnEveryEngine
    void asManyOtherChildrenAreStaleToo(Engine engine) {
        Database larkmoor = Schemas.larkmoor(engine);
        Vacancy vacancy = Vacancy.over(larkmoor.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(12), ODILE));
        larkmoor.run(
                "delete from frame_check where inspection_id = 12",
                "update inspection set hive_id = 13 where inspection_id = 12",
                "update inspection set hive_id = 12 where inspection_id = 13",
                "delete from frame_check where inspection_id = 13",
                "insert into frame_check values (13, 1, 1, 'none'), (13, 2, 1, 'none'), (13, 3, 1, 'none'),"
                        + " (13, 4, 1, 'none'), (13, 5, 1, 'none'), (13, 6, 1, 'none'), (13, 7, 1, 'none')");

        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(StalePlanException.class);
        assertThat(larkmoor.count("hive")).isEqualTo(40);
    }

    @OnEveryEngine
    void aRecordThatWentMeanwhileMakesTheApprovalStale(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("inspection").keys(List.of(2, 3)), ODILE));
        database.run("delete from inspection where inspection_id = 2");

        assertThatThrownBy(() -> vacancy.run(approval))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("1 fewer of inspection");
        assertThat(database.count("inspection")).isEqualTo(2);
    }

    @OnEveryEngine
    void anApprovalRunsOnce(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));
        vacancy.run(approval);

        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(StalePlanException.class);
    }

    @OnEveryEngine
    void aFailureInTheMiddleTakesBackWhatWasBegun(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, name varchar(40))",
                        "create table inspection (inspection_id int primary key,"
                                + " keeper_id int references keeper (keeper_id) on delete set null)",
                        "create table placement (placement_id int primary key,"
                                + " keeper_id int references keeper (keeper_id),"
                                + " constraint always_somebody check (keeper_id is not null))",
                        "insert into keeper values (1, 'Odile Marrow')",
                        "insert into inspection values (1, 1)",
                        "insert into placement values (1, 1)");
        Vacancy vacancy =
                Vacancy.over(database.source(), RuleBook.bySchema().on("placement.keeper_id", Clause.detach()));
        Approval approval = Approval.of(vacancy.plan(Selection.of("keeper").key(1), ODILE));
        List<String> before = database.contents("inspection", "placement");

        assertThatThrownBy(() -> vacancy.run(approval))
                .isInstanceOf(DatabaseException.class)
                .hasMessageContaining("update placement")
                .hasMessageContaining("Nothing was changed");
        assertThat(database.contents("inspection", "placement")).isEqualTo(before);
        assertThat(database.count("keeper")).isEqualTo(1);
    }

    @OnEveryEngine
    void aRecordThatSomebodyElseHoldsIsToldAndNotWaitedForWithoutEnd(Engine engine) throws Exception {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("apiary").key(1), ODILE));

        try (Connection editor = database.connect();
                Statement statement = editor.createStatement()) {
            editor.setAutoCommit(false);
            statement.executeUpdate("update inspection set note = 'rewritten' where inspection_id = 2");

            assertThatThrownBy(() -> vacancy.run(approval))
                    .isInstanceOf(LockedException.class)
                    .hasMessageContaining(engine == Engine.SQLITE ? "this database" : "inspection 2");
            editor.rollback();
        }

        assertThat(vacancy.run(approval).total()).isEqualTo(6);
    }

    @OnEveryEngine
    void aPlanThatFindsNothingRunsAndDoesNothing(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());

        Outcome outcome =
                vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(99), ODILE)));

        assertThat(outcome.counts()).isEmpty();
        assertThat(outcome.notFound()).hasToString("[99]");
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @OnEveryEngine
    void statementsDontGrowWithTheNumberOfRecords(Engine engine) {
        Database few = Schemas.threeLevels(engine);
        Database many = Schemas.threeLevels(engine);
        for (int i = 10; i < 1_010; i++) {
            many.run(
                    "insert into inspection values (" + i + ", 'calm', 1)",
                    "insert into frame_check values (" + i + ", 1)");
        }

        assertThat(statementsToDeleteHive(few))
                .isEqualTo(statementsToDeleteHive(many))
                .isPositive();
        assertThat(many.count("inspection")).isEqualTo(1);
    }

    private static int statementsToDeleteHive(Database database) {
        Vacancy vacancy = Vacancy.over(database.counting());
        database.statements();
        vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE)));
        return database.statements();
    }
}
