package dev.vacancy.rule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Active;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.LocalDate;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** How tables mark soft-deleted records, and that only active ones take over the children of others. */
class MarkerTest {
    @OnEveryEngine
    void whoLeftCantTakeOverWhoIsStillThereCan(Engine engine) {
        Database database = keepers(engine);

        assertActive(database, Marker.timestamp("left_at"), 2, 3);
        assertActive(database, Marker.endDate("until_date"), 3, 4);
        assertActive(database, Marker.endDate("until_date", LocalDate.of(2027, 1, 1)), 2, 3, 4);
        assertActive(database, Marker.flag("status", "member"), 2, 4);
        assertActive(database, Marker.flag("active", true), 2);
        assertActive(database, Marker.flag("shares", "1"), 3, 4);
    }

    /** An end that is still to come is one, unless it is said to mean none; today and on any day before. */
    @OnEveryEngine
    void anEndThatIsToComeCountsTheSameTodayAndAsOfADay(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table stay (stay_id integer primary key, until_date date)",
                        "insert into stay values (1, null), (2, '2099-06-30'), (3, '2020-02-03'), (4, '9999-12-31')");

        for (LocalDate never : List.of(LocalDate.of(9999, 12, 31), LocalDate.of(2090, 1, 1))) {
            Vacancy vacancy = Vacancy.over(
                    database.source(), RuleBook.bySchema().marker("stay", Marker.endDate("until_date", never)));
            Active now = vacancy.active("stay");
            List<String> active = never.getYear() == 9999 ? List.of("1", "4") : List.of("1", "2", "4");

            for (Active at : List.of(now, now.asOf(LocalDate.of(2026, 11, 1)), now.asOf(LocalDate.of(2100, 1, 1)))) {
                assertActive(database, vacancy, at, active);
            }
            List<String> before =
                    Stream.concat(active.stream(), Stream.of("3")).sorted().toList();
            assertActive(database, vacancy, now.asOf(LocalDate.of(2020, 2, 2)), before);
            assertActive(database, vacancy, now.asOf(LocalDate.of(2020, 2, 3)), active);
        }
    }

    private static void assertActive(Database database, Vacancy vacancy, Active at, List<String> keys) {
        assertThat(database.rows("select s.stay_id from stay s where " + at.sql("s") + " order by 1"))
                .isEqualTo(keys);
        Plan plan = vacancy.plan(Selection.of("stay").where(at.criteria()), By.user("odile"));
        assertThat(plan.selected()).isEqualTo(keys.size());
    }

    @OnEveryEngine
    void withoutAMarkerAllAreActive(Engine engine) {
        Database database = keepers(engine);
        RuleBook rules = RuleBook.bySchema().on("inspection.keeper_id", Clause.reassign());

        Plan plan = plan(Vacancy.over(database.source(), rules), 4);

        assertThat(plan.effects()).hasSize(1);
    }

    @OnEveryEngine
    void whoLeavesAfterTheApprovalIsNotHandedAnything(Engine engine) {
        Database database = keepers(engine);
        Vacancy vacancy = vacancy(database, Marker.timestamp("left_at"));
        Approval approval = Approval.of(plan(vacancy, 2));
        database.run("update keeper set left_at = '2026-06-01 12:00:00' where keeper_id = 2");

        assertThatThrownBy(() -> vacancy.run(approval))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("keeper 2, who should take over inspection.keeper_id, isn't active")
                .hasMessageContaining("'left_at is null'");
        assertThat(database.rows("select keeper_id from inspection")).containsExactly("1");
        assertThat(database.count("keeper")).isEqualTo(4);
    }

    @Test
    void whatCantMarkIsToldAtOnce() {
        RuleBook rules = RuleBook.bySchema()
                .marker("keper", Marker.timestamp("left_at"))
                .marker("keeper", Marker.timestamp("left"))
                .marker("keeper", Marker.timestamp("joined_on"))
                .marker("keeper", Marker.endDate("status"))
                .marker("keeper", Marker.flag("shares", "many"))
                .marker("inspection", Marker.flag("keeper_id", 1))
                .marker("inspection", Marker.flag("keeper_id", 2));

        assertThatThrownBy(() -> Vacancy.over(keepers(Engine.H2).source(), rules))
                .isInstanceOfSatisfying(
                        RulesException.class,
                        refused -> assertThat(refused.problems())
                                .extracting(RuleProblem::what)
                                .containsExactly(
                                        "There is no table 'keper'.",
                                        "Table keeper has no column 'left'.",
                                        "keeper.joined_on may not be null, so no record of keeper would be active.",
                                        "keeper.status is CHARACTER VARYING, which is no date or time.",
                                        "keeper.shares is INTEGER, which 'many' is not.",
                                        "there are two markers of inspection."));
    }

    private static void assertActive(Database database, Marker marker, Integer... active) {
        Vacancy vacancy = vacancy(database, marker);
        for (int keeper = 2; keeper <= 4; keeper++) {
            int heir = keeper;
            if (List.of(active).contains(heir)) {
                assertThat(plan(vacancy, heir).blockers())
                        .as("%s %s", marker, heir)
                        .isEmpty();
            } else {
                assertThatThrownBy(() -> plan(vacancy, heir))
                        .as("%s %s", marker, heir)
                        .isInstanceOf(InvalidRequestException.class)
                        .hasMessageContaining("isn't active");
            }
        }
    }

    private static Vacancy vacancy(Database database, Marker marker) {
        RuleBook rules = RuleBook.bySchema()
                .on("inspection.keeper_id", Clause.reassign())
                .marker("keeper", marker);
        return Vacancy.over(database.source(), rules);
    }

    private static Plan plan(Vacancy vacancy, int heir) {
        return vacancy.plan(Selection.of("keeper").key(1).reassigning("inspection.keeper_id", heir), By.user("odile"));
    }

    private static Database keepers(Engine engine) {
        return engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, joined_on date not null, left_at timestamp null,"
                                + " until_date date, status varchar(20), active boolean, shares int)",
                        "create table inspection (inspection_id int primary key, keeper_id int not null,"
                                + " foreign key (keeper_id) references keeper (keeper_id))",
                        "insert into keeper values (1, '2020-01-01', null, null, 'member', true, 1),"
                                + " (2, '2020-01-01', null, '2027-06-01', 'member', true, 2),"
                                + " (3, '2020-01-01', null, '9999-12-31', 'guest', false, 1),"
                                + " (4, '2020-01-01', '2026-05-01 10:00:00', null, 'member', null, 1)",
                        "insert into inspection values (1, 1)");
    }
}
