package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.UUID;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Columns that only statements see which name them: they are part of a record all the same. */
class InvisibleColumnsTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook RULES = RuleBook.bySchema().trail(Trail.defaults());
    private static final String ALL = "select hive_id, origin, wood, grade from hive";

    private static Database larkmoor(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key, origin varchar(20) invisible, wood varchar(20), grade int invisible default 3)",
                        "insert into hive (hive_id, origin, wood, grade) values (1, 'Skerrow', 'oak', null)");
        Ddl.of(database.source(), RULES).apply();
        Ddl.of(database.source(), RULES, Ddl.Part.RETIREMENTS).apply();
        return database;
    }

    private static Vacancy over(Database database) {
        return Vacancy.over(database.source(), RULES);
    }

    private static Plan planned(Vacancy vacancy) {
        return vacancy.plan(Selection.of("hive").key(1), ODILE);
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "MARIADB"})
    void theyComeBackWithTheirRecord(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = over(database);

        assertThat(vacancy.catalog().table("hive").columns())
                .extracting(column -> column.name())
                .containsExactly("hive_id", "origin", "wood", "grade");
        UUID run = vacancy.run(Approval.of(planned(vacancy))).runId();
        vacancy.history()
                .restore(Question.about(vacancy.history().planRestore(run, ODILE))
                        .answer("yes")
                        .orElseThrow());

        assertThat(database.rows(ALL)).containsExactly("1|Skerrow|oak|null");
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "MARIADB"})
    void aChangeOfOneIsAChangeOfItsRecord(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = over(database);
        Approval approval = Approval.of(planned(vacancy));

        database.run("update hive set origin = 'Bramble'");

        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(StalePlanException.class);
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "MARIADB"})
    void oneThatRetiresIsInvisibleAgainAfterwards(Engine engine) {
        Database database = larkmoor(engine);
        RetirementPlan aside = over(database).plan(Retirement.ofColumn("hive", "origin"), ODILE);
        UUID id = over(database)
                .retire(Question.about(aside).answer(aside.name()).orElseThrow())
                .id();

        RetirementPlan back = over(database).retirements().planReturn(id, ODILE);
        over(database).retire(Question.about(back).answer("yes").orElseThrow());

        assertThat(database.rows(ALL)).containsExactly("1|Skerrow|oak|null");
        assertThat(database.rows("select * from hive")).containsExactly("1|oak");
    }
}
