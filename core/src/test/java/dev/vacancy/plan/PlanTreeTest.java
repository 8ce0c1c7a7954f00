package dev.vacancy.plan;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.JsonForm;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Rule;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.List;

/** What a person reads of a plan: each record by a name that says something, each link by its own. */
class PlanTreeTest {
    private static final By NIGHTLY = By.program("nightly clean-up");

    @OnEveryEngine
    void twoLinksBetweenTheSameTablesAreToldApart(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key)",
                        "create table crossing (crossing_id int primary key, mother_id int, father_id int,"
                                + " foreign key (mother_id) references queen (queen_id) on delete cascade,"
                                + " foreign key (father_id) references queen (queen_id) on delete cascade)",
                        "insert into queen values (1), (2)",
                        "insert into crossing values (10, 1, 2), (11, 1, null), (12, null, 1)");

        String tree = tree(database, Selection.of("queen").key(1));

        assertThat(tree.lines().map(line -> line.replaceFirst("^[├└]─ ", "")))
                .containsExactlyInAnyOrder(
                        "queen 1",
                        "crossing by mother_id  2  goes too: 10, 11",
                        "crossing by father_id  1  goes too: 12");
    }

    @OnEveryEngine
    void seeAboveHasSomethingAbove(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table apiary (apiary_id int primary key)",
                        "create table hive (hive_id int primary key, apiary_id int,"
                                + " foreign key (apiary_id) references apiary (apiary_id) on delete cascade)",
                        "create table photo (photo_id int primary key, apiary_id int, hive_id int,"
                                + " foreign key (apiary_id) references apiary (apiary_id) on delete cascade,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "create table tag (tag_id int primary key, photo_id int,"
                                + " foreign key (photo_id) references photo (photo_id) on delete cascade)",
                        "insert into apiary values (1)",
                        "insert into hive values (2, 1)",
                        "insert into photo values (3, 1, 2), (4, 1, null)",
                        "insert into tag values (5, 3)");

        String tree = tree(database, Selection.of("apiary").key(1));

        long above = tree.lines().filter(line -> line.contains("(see above)")).count();
        assertThat(above).as(tree).isEqualTo(1);
        assertThat(tree.lines().filter(line -> line.contains("─ tag")).count())
                .as(tree)
                .isEqualTo(1);
        assertThat(tree.indexOf("─ tag")).as(tree).isLessThan(tree.indexOf("(see above)"));
    }

    @OnEveryEngine
    void aRecordGoesByAColumnThatSaysSomething(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, nickname varchar(20), full_name varchar(20)"
                                + " not null)",
                        "create table hive (hive_id int primary key, note varchar(20), code varchar(20) unique)",
                        "create table frame (frame_id int primary key, note varchar(20))",
                        "insert into keeper values (1, '', 'Odile Fenn')",
                        "insert into hive values (1, 'windy', 'F-1')",
                        "insert into frame values (1, ''), (2, 'broken')");

        assertThat(tree(database, Selection.of("keeper").key(1))).contains("keeper 1 'Odile Fenn'");
        assertThat(tree(database, Selection.of("hive").key(1))).contains("hive 1 'F-1'");
        assertThat(tree(database, Selection.of("frame").keys(List.of(1, 2))))
                .contains("2 'broken'")
                .doesNotContain("''");
    }

    @OnEveryEngine
    void aProgramAsksInItsOwnName(Engine engine) {
        Database database =
                engine.database().run("create table hive (hive_id int primary key)", "insert into hive values (1)");

        Plan plan = Vacancy.over(database.source()).plan(Selection.of("hive").key(1), NIGHTLY.because("too old"));

        assertThat(plan.by().actor()).isEqualTo("nightly clean-up");
        assertThat(JsonForm.of(plan).get("by")).asString().contains("reason=too old");
        assertThat(plan.tree((rule, words) -> rule == Rule.CASCADE ? "!" + words : words))
                .isEqualTo(plan.tree());
    }

    private static String tree(Database database, Selection selection) {
        return Vacancy.over(database.source()).plan(selection, NIGHTLY).tree();
    }
}
