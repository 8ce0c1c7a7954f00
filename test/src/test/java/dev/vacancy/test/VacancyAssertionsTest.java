package dev.vacancy.test;

import static dev.vacancy.test.VacancyAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What is asserted of a deletion holds, or fails and shows what goes instead. */
class VacancyAssertionsTest {
    private static final By UNA = By.user("una");

    private final Database database = Engine.H2
            .database()
            .run(
                    "create table pier (pier_id integer primary key, name varchar(20), closed_at timestamp)",
                    "create table berth (berth_id integer primary key, pier_id integer not null references pier)",
                    "create table craft (craft_id integer primary key, berth_id integer references berth)",
                    "create table bill (bill_id integer primary key, berth_id integer not null references berth)",
                    "insert into pier values (1, 'North', null), (2, 'South', null)",
                    "insert into berth values (10, 1), (11, 1), (20, 2)",
                    "insert into craft values (100, 10)",
                    "insert into bill values (500, 20)");

    private final Vacancy vacancy = Vacancy.over(
            database.source(),
            RuleBook.bySchema()
                    .on("berth.pier_id", Clause.cascade())
                    .on("craft.berth_id", Clause.detach())
                    .marker("pier", Marker.timestamp("closed_at")));

    private Plan plan(Object... piers) {
        return vacancy.plan(Selection.of("pier").keys(List.of(piers)), UNA);
    }

    @Test
    void whatAPlanSaysHolds() {
        assertThat(plan(1))
                .isPossible()
                .selects(1)
                .deletes("pier", 1)
                .deletes("berth", 2)
                .deletesOnly(Map.of("pier", 1, "berth", 2))
                .changes("craft.berth_id", 1)
                .leaves("craft", "bill")
                .marksNothing();
        assertThat(plan(2)).isBlockedBy("bill.berth_id");
    }

    @Test
    void whatAnOutcomeSaysHolds() {
        Outcome outcome = vacancy.delete(Selection.of("pier").keys(List.of(1, 9)), UNA);

        assertThat(outcome)
                .deletesOnly(Map.of("pier", 1, "berth", 2))
                .changes("craft.berth_id", 1)
                .marksNothing()
                .skipsNothing()
                .misses(1);
    }

    @Test
    void whatDoesNotHoldFailsAndShowsTheWhole() {
        assertThatThrownBy(() -> assertThat(plan(1)).deletes("berth", 3))
                .isInstanceOf(AssertionError.class)
                .hasMessageContaining("Expected 3 of berth to go, but this is what goes:")
                .hasMessageContaining("pier 1 'North'")
                .hasMessageContaining("─ berth");
        assertThatThrownBy(() -> assertThat(plan(2)).isPossible())
                .hasMessageContaining("Expected nothing to forbid it");
        assertThatThrownBy(() -> assertThat(plan(1)).isBlockedBy("bill.berth_id"))
                .hasMessageContaining("Expected children on bill.berth_id to forbid it");
        assertThatThrownBy(() -> assertThat(plan(1)).selects(2)).hasMessageContaining("Expected 2 to be selected");
        assertThatThrownBy(() -> assertThat(plan(1)).leaves("berth")).hasMessageContaining("no record of berth to go");
        assertThatThrownBy(() -> assertThat(plan(1)).marks("pier"))
                .hasMessageContaining("records of pier to be marked");
        assertThatThrownBy(() -> assertThat(plan(1)).changes("craft.berth_id", 2))
                .hasMessageContaining("2 to be changed on craft.berth_id");
        assertThatThrownBy(() -> assertThat(plan(1)).deletesOnly(Map.of("pier", 1)))
                .hasMessageContaining("just {pier=1} to go");

        Outcome outcome = vacancy.delete(Selection.of("pier").key(1), UNA);

        assertThatThrownBy(() -> assertThat(outcome).deletes("berth", 1))
                .hasMessageContaining("deleted: {pier=1, berth=2}");
        assertThatThrownBy(() -> assertThat(outcome).misses(1)).hasMessageContaining("1 keys not to be found");
        assertThatThrownBy(() -> assertThat((Plan) null)).hasMessage("plan");
    }

    @Test
    void whatIsMarkedIsTold() {
        Vacancy soft = Vacancy.over(
                database.source(),
                RuleBook.bySchema()
                        .on("berth.pier_id", Clause.keep())
                        .marker("pier", Marker.timestamp("closed_at"))
                        .soft("pier"));

        assertThat(soft.plan(Selection.of("pier").key(2), UNA)).marks("pier").leaves("berth");
        assertThatThrownBy(() ->
                        assertThat(soft.plan(Selection.of("pier").key(2), UNA)).marksNothing())
                .hasMessageContaining("no record to be marked");
    }
}
