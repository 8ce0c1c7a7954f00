package dev.vacancy.criteria;

import static dev.vacancy.Criteria.column;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.UnexpectedCountException;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Schemas;
import java.math.BigDecimal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Records selected by what they hold: the right ones go, nothing else does, and nobody gets everything by accident. */
class SelectByCriteriaTest {
    @OnEveryEngine
    void recordsArePickedByTheirOwnAndTheirParentsColumns(Engine engine) {
        Database database = Schemas.threeLevels(engine);

        assertThat(keys(plan(database, column("note").equalTo("calm")))).containsExactly("1", "3");
        assertThat(keys(plan(database, Criteria.parse("note = 'calm' and hive.name like 'Fell%'"))))
                .containsExactly("1");
        assertThat(keys(plan(database, Criteria.parse("hive.apiary.name = 'Bramble' or inspection_id = 2"))))
                .containsExactly("2", "3");
    }

    @OnEveryEngine
    void exactlyTheMatchingRecordsGoWithTheirChildren(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Plan plan = vacancy.plan(Selection.of("inspection").where(column("note").equalTo("calm")), By.user("odile"));

        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(outcome.counts()).isEqualTo(Map.of("inspection", 2L, "frame_check", 3L));
        assertThat(database.rows("select inspection_id from inspection")).containsExactly("2");
        assertThat(database.count("frame_check")).isZero();
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @OnEveryEngine
    void whatMatchesNothingSelectsNothing(Engine engine) {
        Plan plan = plan(Schemas.threeLevels(engine), column("note").equalTo("cross"));

        assertThat(plan.isEmpty()).isTrue();
        assertThat(plan.notFound()).isEmpty();
        assertThat(plan.selection().criteria()).map(Criteria::toString).contains("note = 'cross'");
    }

    @OnEveryEngine
    void anotherNumberThanExpectedIsRefused(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Selection calm = Selection.of("inspection").where(column("note").equalTo("calm"));
        Vacancy vacancy = Vacancy.over(database.source());

        assertThat(vacancy.plan(calm.expecting(2), By.user("odile")).roots()).hasSize(2);
        assertThatThrownBy(() -> vacancy.plan(calm.expecting(1), By.user("odile")))
                .isInstanceOf(UnexpectedCountException.class);
    }

    @OnEveryEngine
    void aRecordThatComesToMatchMakesThePlanStale(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(
                vacancy.plan(Selection.of("inspection").where(column("note").equalTo("calm")), By.user("odile")));
        database.run("update inspection set note = 'calm' where inspection_id = 2");

        assertThatThrownBy(() -> vacancy.run(approval))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("1 more of inspection");
        assertThat(database.count("inspection")).isEqualTo(3);
    }

    @OnEveryEngine
    void aRecordThatNoLongerMatchesMakesThePlanStale(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(
                Selection.of("inspection").where(Criteria.parse("hive.apiary.name = 'Fellside'")), By.user("odile")));
        database.run("update apiary set name = 'Fell' where apiary_id = 1");

        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(StalePlanException.class);
        assertThat(database.count("inspection")).isEqualTo(3);
    }

    @OnEveryEngine
    void todayIsTheDayOnWhichThePlanWasMade(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table treatment (treatment_id int primary key, withhold_until date)",
                        "insert into treatment values (1, '2026-05-31'), (2, '2026-06-01'), (3, '2026-06-02')");
        AtomicReference<Instant> now = new AtomicReference<>(Instant.parse("2026-06-01T23:59:00Z"));
        Clock clock = ((InstantSource) now::get).withZone(ZoneOffset.UTC);
        Vacancy vacancy = Vacancy.over(database.source(), RuleBook.bySchema(), clock);
        Selection lapsed = Selection.of("treatment").where(Criteria.parse("withhold_until < today"));
        Plan plan = vacancy.plan(lapsed, By.user("odile"));
        now.set(now.get().plus(Duration.ofMinutes(2)));

        vacancy.run(Approval.of(plan));

        assertThat(database.rows("select treatment_id from treatment order by 1"))
                .containsExactly("2", "3");
        assertThat(keys(vacancy.plan(lapsed, By.user("odile")))).containsExactly("2");
    }

    @OnEveryEngine
    void blockedOnesCanBeLeftOut(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table apiary (apiary_id int primary key, name varchar(40))",
                        "create table hive (hive_id int primary key, apiary_id int not null references apiary (apiary_id))",
                        "insert into apiary values (1, 'Fellside'), (2, 'Fell End'), (3, 'Bramble')",
                        "insert into hive values (1, 2)");
        Selection fells = Selection.of("apiary").where(column("name").like("Fell%"));

        Plan plan = Vacancy.over(database.source()).plan(fells.skippingBlocked(), By.user("odile"));

        assertThat(keys(plan)).containsExactly("1");
        assertThat(plan.skipped())
                .extracting(skipped -> skipped.root().key().text())
                .containsExactly("2");
    }

    @ParameterizedTest
    @ValueSource(strings = {"hive_id is not null", "hive_id > 1 or hive_id < 2", "name is null or not name is null"})
    void aCriteriaThatEveryRecordMeetsIsRefused(String text) {
        Database database = Schemas.threeLevels(Engine.H2);
        Selection all = Selection.of("hive").where(Criteria.parse(text));

        assertThatThrownBy(() -> Vacancy.over(database.source()).plan(all, By.user("odile")))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("picks every record of hive");
    }

    @ParameterizedTest
    @ValueSource(strings = {"", " "})
    void anEmptyCriteriaNeverMeansAll(String text) {
        assertThatThrownBy(() -> Selection.of("hive").where(Criteria.parse(text)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("never means all records");
        assertThatThrownBy(() -> Selection.of("hive").where(null))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("never means all");
    }

    @OnEveryEngine
    void aTableWithoutAKeyCantBeSelectedFrom(Engine engine) {
        Database database = engine.database().run("create table weight (kilos int)", "insert into weight values (1)");
        Selection light = Selection.of("weight").where(column("kilos").lessThan(2));

        assertThatThrownBy(() -> Vacancy.over(database.source()).plan(light, By.user("odile")))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("no primary key");
    }

    /** Whatever finds the records of a list, two of its values that mean the same must not find one record twice. */
    @OnEveryEngine
    void aRecordThatTwoValuesOfAListFindIsOneRecord(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table frame (frame_id integer primary key, width "
                                + (engine == Engine.SQLITE ? "numeric" : "numeric(4, 2)") + ", mark char(4))",
                        "create table comb (comb_id integer primary key, frame_id integer not null,"
                                + " foreign key (frame_id) references frame (frame_id) on delete cascade)",
                        "insert into frame values (1, 1.5, 'a'), (2, 1.25, 'b'), (3, 1.5, 'a')",
                        "insert into comb values (1, 1), (2, 1), (3, 2)");
        Criteria twice = column("width")
                .oneOf(List.of(new BigDecimal("1.5"), new BigDecimal("1.50")))
                .and(column("mark").oneOf(List.of("a", "a   ", "c")));
        Vacancy vacancy = Vacancy.over(database.source());
        Plan plan = vacancy.plan(Selection.of("frame").where(twice), By.user("odile"));

        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(plan.counts()).isEqualTo(Map.of("frame", 2L, "comb", 2L));
        assertThat(outcome.counts()).isEqualTo(plan.counts());
        assertThat(database.rows("select frame_id from frame")).containsExactly("2");
        assertThat(database.rows("select comb_id from comb")).containsExactly("3");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            quoteCharacter = '"',
            value = {
                "varchar_ignorecase(8); 'a'; 'A'",
                "char(8); 'a'; 'a   '",
                "double precision; 1.5; 1.50",
                "decfloat(5); 1.5; 1.50",
                "timestamp with time zone; '2026-05-01T12:00:00Z'; '2026-05-01T14:00:00+02:00'"
            })
    void twoSpellingsFindOneRecordOfEachOfH2sTypes(String type, String first, String second) {
        String literal = type.startsWith("timestamp") ? "timestamp with time zone " + first.replace('T', ' ') : first;
        Database database = Engine.H2
                .database()
                .run(
                        "create table frame (frame_id integer primary key, mark " + type + ")",
                        "insert into frame values (1, " + literal + "), (2, null)");
        Criteria twice = Criteria.parse("mark in (" + first + ", " + second + ")");

        Plan plan = Vacancy.over(database.source()).plan(Selection.of("frame").where(twice), By.user("odile"));

        assertThat(plan.counts()).isEqualTo(Map.of("frame", 1L));
    }

    @OnEveryEngine
    void aKeyInAnotherCaseIsAnotherKey(Engine engine) {
        Database database = engine.database()
                .run("create table tag (name varchar(20) primary key)", "insert into tag values ('calm'), ('cross')");
        Vacancy vacancy = Vacancy.over(database.source());
        Plan plan = vacancy.plan(Selection.of("tag").keys(List.of("CALM", "cross")), By.user("odile"));

        vacancy.run(Approval.of(plan));

        assertThat(plan.notFound()).hasToString("[CALM]");
        assertThat(database.rows("select name from tag")).containsExactly("calm");
    }

    private static Plan plan(Database database, Criteria criteria) {
        return Vacancy.over(database.source()).plan(Selection.of("inspection").where(criteria), By.user("odile"));
    }

    private static List<String> keys(Plan plan) {
        return plan.roots().stream().map(root -> root.key().text()).toList();
    }
}
