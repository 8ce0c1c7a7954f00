package dev.vacancy.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Skipped;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.List;

/** Of many selected records, those that can go do, and the others are listed with who forbids it. */
class SkipBlockedTest {
    private static final By ODILE = By.user("odile");

    @OnEveryEngine
    void blockedRecordsStayWithAllThatDependsOnThemAndTheOthersGo(Engine engine) {
        Database database = soldHoney(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Plan plan = vacancy.plan(Selection.of("apiary").keys(List.of(1, 2, 3)).skippingBlocked(), ODILE);

        // H2 and MariaDB tell NO ACTION as RESTRICT, which is what they do.
        String action = CatalogLink.of(plan.skipped().get(0).blockers().get(0).link())
                .onDelete()
                .sql()
                .replace("ON DELETE ", "");

        assertThat(plan.blockers()).isEmpty();
        assertThat(plan.roots()).extracting(root -> root.key().text()).containsExactly("2");
        assertThat(plan.skipped())
                .extracting(Skipped::text)
                .containsExactly(
                        "apiary 1 'Fellside': 2 records of jar forbid it by jar.hive_id: the schema says ON DELETE "
                                + action,
                        "apiary 3 'Moorend': 1 record of jar forbids it by jar.hive_id: the schema says ON DELETE "
                                + action);
        assertThat(plan.skipped().get(0).blockers().get(0).children())
                .extracting(child -> child.record().toString())
                .containsExactly("1 'heather'", "2 'clover'");

        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(outcome.counts()).containsOnly(entry("apiary", 1L), entry("hive", 1L));
        assertThat(outcome.skipped()).hasSize(2);
        assertThat(database.rows("select apiary_id from apiary order by 1")).containsExactly("1", "3");
        assertThat(database.rows("select hive_id from hive order by 1")).containsExactly("1", "2", "4");
    }

    @OnEveryEngine
    void whatABlockedRecordWouldHaveTakenAlongMayForbidAnotherInTurn(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key)",
                        "create table hive (hive_id int primary key, keeper_id int, helper_id int,"
                                + " foreign key (keeper_id) references keeper (keeper_id) on delete cascade,"
                                + " foreign key (helper_id) references keeper (keeper_id))",
                        "create table jar (jar_id int primary key, hive_id int,"
                                + " foreign key (hive_id) references hive (hive_id))",
                        "insert into keeper values (1), (2), (3)",
                        "insert into hive values (1, 1, 2), (2, 3, 3)",
                        "insert into jar values (1, 1)");
        Plan plan = Vacancy.over(database.source())
                .plan(Selection.of("keeper").keys(List.of(1, 2, 3)).skippingBlocked(), ODILE);

        // Keeper 1 stays because of the jar; so hive 1 stays, and with it its helper, keeper 2.
        assertThat(plan.skipped())
                .extracting(skipped -> skipped.root().key().text())
                .containsExactly("1", "2");
        assertThat(plan.roots()).extracting(root -> root.key().text()).containsExactly("3");
    }

    @OnEveryEngine
    void theyAreListedByKeyInWhicheverRoundTheyWereFound(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, mentor_id int,"
                                + " foreign key (mentor_id) references keeper (keeper_id))",
                        "create table jar (jar_id int primary key, keeper_id int,"
                                + " foreign key (keeper_id) references keeper (keeper_id))",
                        "insert into keeper values (1, null), (2, 1), (3, 2)",
                        "insert into jar values (1, 3)");

        Plan plan = Vacancy.over(database.source())
                .plan(Selection.of("keeper").keys(List.of(1, 2, 3)).skippingBlocked(), ODILE);

        // Keeper 3 stays because of the jar, so 2, the mentor of 3, stays, and so does 1, the mentor of 2.
        assertThat(plan.skipped())
                .extracting(skipped -> skipped.root().key().text())
                .containsExactly("1", "2", "3");
    }

    @OnEveryEngine
    void aNewParentThatIsLeftOutItselfCanTakeOver(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key)",
                        "create table inspection (inspection_id int primary key, keeper_id int not null,"
                                + " foreign key (keeper_id) references keeper (keeper_id))",
                        "create table jar (jar_id int primary key, keeper_id int not null,"
                                + " foreign key (keeper_id) references keeper (keeper_id))",
                        "insert into keeper values (1), (2)",
                        "insert into inspection values (1, 1)",
                        "insert into jar values (1, 2)");
        RuleBook rules = RuleBook.bySchema().on("inspection.keeper_id", Clause.reassign(2));
        Vacancy vacancy = Vacancy.over(database.source(), rules);

        vacancy.run(Approval.of(
                vacancy.plan(Selection.of("keeper").keys(List.of(1, 2)).skippingBlocked(), ODILE)));

        assertThat(database.rows("select keeper_id from keeper")).containsExactly("2");
        assertThat(database.rows("select keeper_id from inspection")).containsExactly("2");
    }

    @OnEveryEngine
    void withoutSkippingOneBlockedRecordFailsTheWhole(Engine engine) {
        Database database = soldHoney(engine);

        Plan plan = Vacancy.over(database.source()).plan(Selection.of("apiary").keys(List.of(1, 2)), ODILE);

        assertThat(plan.skipped()).isEmpty();
        assertThat(plan.blockers()).hasSize(1);
    }

    @OnEveryEngine
    void anotherRecordThatBecomesBlockedMakesTheApprovalStale(Engine engine) {
        Database database = soldHoney(engine).run("insert into apiary values (4, 'Ling')");
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(
                vacancy.plan(Selection.of("apiary").keys(List.of(1, 2, 4)).skippingBlocked(), ODILE));
        database.run("insert into jar values (4, 'ling', 3)");

        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(StalePlanException.class);
        assertThat(database.count("apiary")).isEqualTo(4);
    }

    /** Three apiaries; of the first and the last, honey was sold. */
    private static Database soldHoney(Engine engine) {
        return engine.database()
                .run(
                        "create table apiary (apiary_id int primary key, name varchar(20))",
                        "create table hive (hive_id int primary key, apiary_id int,"
                                + " foreign key (apiary_id) references apiary (apiary_id) on delete cascade)",
                        "create table jar (jar_id int primary key, honey varchar(20), hive_id int,"
                                + " foreign key (hive_id) references hive (hive_id) on delete no action)",
                        "insert into apiary values (1, 'Fellside'), (2, 'Bramble'), (3, 'Moorend')",
                        "insert into hive values (1, 1), (2, 1), (3, 2), (4, 3)",
                        "insert into jar values (1, 'heather', 1), (2, 'clover', 2), (3, 'lime', 4)");
    }
}
