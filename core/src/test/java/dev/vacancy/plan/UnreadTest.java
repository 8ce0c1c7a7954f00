package dev.vacancy.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.JsonForm;
import dev.vacancy.Limits;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Key;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Schemas;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.StringJoiner;

/** Records of which too many go for their keys to be held stay in the database, and nothing else is different. */
class UnreadTest {
    private static final By ODILE = By.user("odile");
    private static final Limits NONE_HELD = Limits.defaults().keysHeld(0);

    @OnEveryEngine
    void theSameRecordsGo(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy holding = Vacancy.over(database.source());
        Vacancy vacancy = holding.withLimits(NONE_HELD);

        Plan held = holding.plan(Selection.of("apiary").key(1), ODILE);
        Plan plan = vacancy.plan(Selection.of("apiary").key(1), ODILE);

        assertThat(plan.counts()).isEqualTo(held.counts());
        assertThat(plan.tree()).isEqualTo(held.tree());
        assertThat(vacancy.run(Approval.of(plan)).counts()).isEqualTo(held.counts());
        assertThat(database.rows("select count(*) from hive where apiary_id = 1"))
                .containsExactly("0");
        assertThat(database.count("hive")).isPositive();
    }

    @OnEveryEngine
    void aListOfKeysIsTakenAsItIs(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy holding = Vacancy.over(database.source());
        Vacancy vacancy = holding.withLimits(NONE_HELD);
        List<String> hives = database.rows("select hive_id from hive order by 1");
        List<Object> keys = new ArrayList<>(hives);
        keys.add(9_999);
        keys.add(Integer.valueOf(hives.get(0)));
        keys.remove(hives.get(1));

        Plan held = holding.plan(Selection.of("hive").keys(keys), ODILE);
        Plan plan = vacancy.plan(Selection.of("hive").keys(keys), ODILE);
        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(plan.selected()).isEqualTo(hives.size() - 1);
        assertThat(plan.fingerprint()).isEqualTo(held.fingerprint());
        assertThat(plan.notFound()).extracting(Key::text).containsExactly("9999");
        assertThat(outcome.counts()).isEqualTo(held.counts());
        assertThat(database.rows("select hive_id from hive")).containsExactly(hives.get(1));
    }

    @OnEveryEngine
    void ofAListOfKeysOnlyTheVerySameAreTaken(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table mark (name varchar(20) primary key)",
                        "insert into mark values ('Fell'), ('moor'), ('Łuk'), ('1.0')");
        Vacancy vacancy = Vacancy.over(database.source()).withLimits(NONE_HELD);

        Outcome outcome = vacancy.run(Approval.of(
                vacancy.plan(Selection.of("mark").keys(List.of("fell", "Fell ", "moor", "Łuk", "1")), ODILE)));

        assertThat(outcome.notFound()).extracting(Key::text).containsExactly("fell", "Fell ", "1");
        assertThat(database.rows("select name from mark order by 1")).containsExactly("1.0", "Fell");
    }

    @OnEveryEngine
    void aListOfKeysIsMarkedAsItIs(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, gone_at timestamp)",
                        "create table note (note_id integer primary key, hive_id integer references hive (hive_id) on delete cascade)",
                        "insert into hive values (1, null), (2, null), (3, '2026-01-01 00:00:00'), (4, null)",
                        "insert into note values (1, 1), (2, 2), (3, 4)");
        Vacancy vacancy = Vacancy.over(
                        database.source(),
                        RuleBook.bySchema()
                                .marker("hive", Marker.timestamp("gone_at"))
                                .soft("hive")
                                .on("note.hive_id", Clause.detach()))
                .withLimits(NONE_HELD);

        Plan plan = vacancy.plan(Selection.of("hive").keys(List.of(1, 2, 3, 5)), ODILE);
        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(plan.alreadyDeleted()).extracting(Key::text).containsExactly("3");
        assertThat(outcome.notFound()).extracting(Key::text).containsExactly("5");
        assertThat(database.rows("select hive_id from hive where gone_at is null"))
                .containsExactly("4");
    }

    @OnEveryEngine
    void anotherRecordInPlaceOfOneIsNoticed(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source()).withLimits(NONE_HELD);
        Plan plan = vacancy.plan(Selection.of("apiary").key(1), ODILE);
        long inspections = database.count("inspection");
        int hive = Integer.parseInt(database.rows("select min(hive_id) from hive where apiary_id = 1")
                .get(0));
        database.run(
                "insert into inspection values (900, 'another', " + hive + ")",
                "delete from frame_check where inspection_id = 1",
                "delete from inspection where inspection_id = 1");

        assertThatThrownBy(() -> vacancy.run(Approval.of(plan))).isInstanceOf(StalePlanException.class);
        assertThat(database.count("inspection")).isEqualTo(inspections);
    }

    @OnEveryEngine
    void theWayToABlockerIsTold(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        RuleBook rules = RuleBook.bySchema().on("frame_check.inspection_id", Clause.block("not counted yet"));
        Vacancy holding = Vacancy.over(database.source(), rules);

        Plan held = holding.plan(Selection.of("apiary").key(1), ODILE);
        Plan plan = holding.withLimits(NONE_HELD).plan(Selection.of("apiary").key(1), ODILE);

        assertThat(plan.blockers()).isNotEmpty();
        assertThat(plan.blockers().get(0).children().get(0).way())
                .hasSize(3)
                .first()
                .isEqualTo("apiary 1");
        assertThat(JsonForm.of(plan).get("blockers"))
                .isEqualTo(JsonForm.of(held).get("blockers"));
    }

    @OnEveryEngine
    void aCircleBelowThemIsHeldAllTheSame(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table apiary (apiary_id int primary key)",
                        "create table hive (hive_id int primary key, apiary_id int, foreign key (apiary_id) references"
                                + " apiary (apiary_id) on delete cascade)",
                        "create table queen (queen_id int primary key, hive_id int, mother_id int,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade,"
                                + " foreign key (mother_id) references queen (queen_id) on delete cascade)",
                        "insert into apiary values (1), (2)",
                        "insert into hive values (1, 1), (2, 1), (3, 2)",
                        "insert into queen values (1, 1, null), (2, 3, 1), (3, 3, 2), (4, 3, null)");
        Vacancy vacancy = Vacancy.over(database.source()).withLimits(NONE_HELD);

        Plan plan = vacancy.plan(Selection.of("apiary").key(1), ODILE);
        vacancy.run(Approval.of(plan));

        assertThat(plan.counts()).containsOnly(entry("apiary", 1L), entry("hive", 2L), entry("queen", 3L));
        assertThat(database.rows("select queen_id from queen")).containsExactly("4");
        assertThat(database.rows("select hive_id from hive")).containsExactly("3");
    }

    @OnEveryEngine
    void recordsThatAreReachedInSeveralWaysGoOnce(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table apiary (apiary_id int primary key)",
                        "create table hive (hive_id int primary key, apiary_id int, foreign key (apiary_id) references"
                                + " apiary (apiary_id) on delete cascade)",
                        "create table visit (visit_id int primary key, apiary_id int, hive_id int,"
                                + " foreign key (apiary_id) references apiary (apiary_id) on delete cascade,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "create table note (note_id int primary key, visit_id int, foreign key (visit_id) references"
                                + " visit (visit_id) on delete cascade)",
                        "insert into apiary values (1), (2)",
                        "insert into hive values (1, 1), (2, 1), (3, 2)",
                        "insert into visit values (1, 1, 1), (2, null, 2), (3, 1, 3), (4, 2, 3)",
                        "insert into note values (1, 1), (2, 2), (3, 3), (4, 4)");
        for (int held : List.of(0, 2)) {
            Vacancy vacancy =
                    Vacancy.over(database.source()).withLimits(Limits.defaults().keysHeld(held));

            Plan plan = vacancy.plan(Selection.of("apiary").key(1), ODILE);

            assertThat(plan.counts())
                    .containsOnly(entry("apiary", 1L), entry("hive", 2L), entry("visit", 3L), entry("note", 3L));
        }
        Vacancy vacancy = Vacancy.over(database.source()).withLimits(NONE_HELD);
        vacancy.run(Approval.of(vacancy.plan(Selection.of("apiary").key(1), ODILE)));
        assertThat(database.rows("select note_id from note")).containsExactly("4");
    }

    @OnEveryEngine
    void limitsThatMakeNoSenseAreRefused(Engine engine) {
        Vacancy vacancy = Vacancy.over(Schemas.threeLevels(engine).source());

        assertThatThrownBy(() -> vacancy.withLimits(Limits.defaults().keysHeld(-1)))
                .hasMessageContaining("negative");
        assertThatThrownBy(() -> vacancy.withLimits(Limits.defaults().lockWait(Duration.ofSeconds(-1))))
                .hasMessageContaining("negative");
    }

    @OnEveryEngine
    void manySelectedRecordsStayInTheDatabaseToo(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key, name varchar(20))",
                        "create table inspection (inspection_id int primary key, hive_id int, foreign key (hive_id)"
                                + " references hive (hive_id) on delete cascade)",
                        "create table batch (batch_id int primary key, hive_id int, foreign key (hive_id)"
                                + " references hive (hive_id))");
        int many = Plan.MOST_ROOTS + 200;
        for (int first = 1; first <= many; first += 300) {
            StringJoiner hives = new StringJoiner(", ", "insert into hive values ", "");
            StringJoiner inspections = new StringJoiner(", ", "insert into inspection values ", "");
            for (int id = first; id < first + 300; id++) {
                hives.add("(" + id + ", 'old')");
                inspections.add("(" + id + ", " + id + ")");
            }
            database.run(hives.toString(), inspections.toString());
        }
        database.run("insert into hive values (9000, 'new')", "insert into inspection values (9000, 9000)");
        Vacancy holding = Vacancy.over(database.source());
        Selection old = Selection.of("hive").where(Criteria.parse("name = 'old'"));

        Plan held = holding.plan(old, ODILE);
        Plan plan = holding.withLimits(NONE_HELD).plan(old, ODILE);

        assertThat(plan.counts()).containsOnly(entry("hive", (long) many), entry("inspection", (long) many));
        assertThat(plan.roots()).isEqualTo(held.roots());
        assertThat(plan.fingerprint()).isEqualTo(held.fingerprint());
        database.run("insert into batch values (1, 17)");
        Plan blocked = holding.withLimits(NONE_HELD).plan(old, ODILE);
        assertThat(blocked.blockers().get(0).children().get(0).way()).containsExactly("hive 17");
        database.run("delete from batch");
        assertThat(holding.withLimits(NONE_HELD).run(Approval.of(plan)).counts())
                .isEqualTo(plan.counts());
        assertThat(database.rows("select hive_id from hive")).containsExactly("9000");
        assertThat(database.rows("select inspection_id from inspection")).containsExactly("9000");
    }
}
