package dev.vacancy.criteria;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.UnexpectedCountException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.Key;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Schemas;
import java.math.BigDecimal;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.StringJoiner;
import java.util.UUID;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Keys as callers give them: of all types, as text, wrong, missing and hostile. */
class SelectionTest {
    private static final String[] TABLES = {"apiary", "hive", "inspection", "frame_check"};

    @OnEveryEngine
    void keysThatMatchNothingAreToldOneByOne(Engine engine) {
        Plan plan = plan(Schemas.threeLevels(engine), Selection.of("hive").keys(List.of(7, 1, "8", 1)));

        assertThat(plan.roots()).hasSize(1);
        assertThat(plan.notFound()).extracting(Key::text).containsExactly("7", "8");
    }

    @OnEveryEngine
    void anEmptyListIsRefused(Engine engine) {
        Database database = Schemas.threeLevels(engine);

        assertThatThrownBy(() -> plan(database, Selection.of("hive").keys(List.of())))
                .hasMessageContaining("that never means all of them")
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.NOTHING_SELECTED);
    }

    @OnEveryEngine
    void allRecordsHaveToBeAskedForByName(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        long frames = database.count("frame_check");

        Plan plan = vacancy.plan(Selection.of("frame_check").allRecords(), By.user("odile"));
        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(plan.selected()).isEqualTo(frames);
        assertThat(plan.ofTable()).hasValue(frames);
        assertThat(plan.isOfWholeTable()).isTrue();
        assertThat(outcome.selected()).isEqualTo(frames);
        assertThat(database.count("frame_check")).isZero();
        assertThat(database.count("inspection")).isPositive();
    }

    @OnEveryEngine
    void moreThanAllowedAreRefused(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Selection two = Selection.of("hive").keys(List.of(1, 2));

        assertThatThrownBy(() -> plan(database, two.atMost(1)))
                .isInstanceOfSatisfying(UnexpectedCountException.class, refused -> {
                    assertThat(refused.expected()).isEqualTo(1);
                    assertThat(refused.found()).isEqualTo(2);
                })
                .hasMessageContaining("at most 1 of hive");
        assertThat(plan(database, two.atMost(2)).selected()).isEqualTo(2);
        assertThatThrownBy(() -> two.atMost(0)).isInstanceOf(InvalidRequestException.class);
    }

    @OnEveryEngine
    void ofManyRecordsTheFirstOnesAreShownAndAllAreCounted(Engine engine) {
        Database database = engine.database().run("create table reading (reading_id int primary key, kilos int)");
        int many = Plan.MOST_ROOTS + 200;
        for (int first = 0; first < many; first += 400) {
            StringJoiner rows = new StringJoiner(", ", "insert into reading values ", "");
            for (int i = 0; i < 400; i++) {
                rows.add("(" + (many - first - i) + ", 3)");
            }
            database.run(rows.toString());
        }
        Vacancy vacancy = Vacancy.over(database.source());

        Plan plan = vacancy.plan(Selection.of("reading").where(Criteria.parse("kilos = 3")), By.user("odile"));

        assertThat(plan.selected()).isEqualTo(many);
        assertThat(plan.roots()).hasSize(Plan.MOST_ROOTS);
        assertThat(plan.roots().get(0).key().text()).isEqualTo("1");
        assertThat(plan.roots().get(Plan.MOST_ROOTS - 1).key().text()).isEqualTo(String.valueOf(Plan.MOST_ROOTS));
        database.run("update reading set kilos = 4 where reading_id = " + many);
        assertThatThrownBy(() -> vacancy.run(Approval.of(plan))).hasMessageContaining("1 fewer of reading");
        database.run("update reading set kilos = 3 where reading_id = " + many);
        assertThat(vacancy.run(Approval.of(plan)).counts()).containsEntry("reading", (long) many);
    }

    @OnEveryEngine
    void aNullIsRefused(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Map<String, Object> half = new HashMap<>();
        half.put("inspection_id", 1);
        half.put("frame_no", null);

        assertThatThrownBy(() -> plan(database, Selection.of("hive").keys(Arrays.asList(1, null))))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("hive_id");
        assertThatThrownBy(() -> plan(database, Selection.of("frame_check").key(half)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("frame_no");
    }

    @OnEveryEngine
    void anotherNumberThanExpectedIsRefused(Engine engine) {
        Database database = Schemas.threeLevels(engine);
        Selection two = Selection.of("hive").keys(List.of(1, 99)).expecting(2);

        assertThatThrownBy(() -> plan(database, two))
                .isInstanceOfSatisfying(UnexpectedCountException.class, refused -> {
                    assertThat(refused.expected()).isEqualTo(2);
                    assertThat(refused.found()).isEqualTo(1);
                })
                .hasMessageContaining("not found: 99");
        assertThat(plan(database, Selection.of("hive").keys(List.of(1, 99)).expecting(1))
                        .roots())
                .hasSize(1);
    }

    @OnEveryEngine
    void compositeKeysAreGivenInOrderOrByName(Engine engine) {
        Database database = Schemas.threeLevels(engine);

        Plan inOrder = plan(database, Selection.of("frame_check").key(1, 2));
        Plan byName = plan(database, Selection.of("frame_check").key(Map.of("frame_no", "2", "INSPECTION_ID", 1)));

        assertThat(inOrder.roots()).hasSize(1);
        assertThat(byName.fingerprint()).isEqualTo(inOrder.fingerprint());
        assertThat(inOrder.roots().get(0).key().text()).isEqualTo("inspection_id=1,frame_no=2");
    }

    @OnEveryEngine
    void aKeyOfAnotherShapeIsRefusedWithTheRightOne(Engine engine) {
        Database database = Schemas.threeLevels(engine);

        assertThatThrownBy(() -> plan(database, Selection.of("frame_check").key(1)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("inspection_id=…,frame_no=…");
        assertThatThrownBy(() -> plan(database, Selection.of("frame_check").key(Map.of("inspection_id", 1))))
                .hasMessageContaining("inspection_id=…,frame_no=…");
        assertThatThrownBy(() -> plan(database, Selection.of("frame_check").key(Map.of("frame_nr", 1))))
                .hasMessageContaining("Did you mean 'frame_no'?");
        assertThatThrownBy(() -> plan(database, Selection.of("hive").key(1, 2)))
                .isInstanceOf(InvalidRequestException.class);
    }

    @OnEveryEngine
    void anUnknownTableIsToldWithTheNearestName(Engine engine) {
        Database database = Schemas.threeLevels(engine);

        assertThatThrownBy(() -> plan(database, Selection.of("hvie").key(1)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessage("There is no table 'hvie'. Did you mean 'hive'?");
        assertThatThrownBy(() -> plan(database, Selection.of("customer").key(1)))
                .hasMessageContaining("There are: apiary, frame_check, hive, inspection.");
    }

    @OnEveryEngine
    void aTableWithoutAKeyCantBeSelectedFrom(Engine engine) {
        Database database = engine.database().run("create table weight (kilos int)");

        assertThatThrownBy(() -> plan(database, Selection.of("weight").key(1)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("no primary key");
    }

    @OnEveryEngine
    void textIsReadByTheTypeOfTheColumn(Engine engine) {
        UUID id = UUID.fromString("018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10");

        assertFound(engine, "uuid", "'" + id + "'", id.toString());
        assertFound(engine, "uuid", "'" + id + "'", id);
        assertFound(engine, "bigint", "9007199254740993", "9007199254740993");
        assertFound(engine, "smallint", "-7", "-7");
        assertFound(engine, "numeric(8,2)", "1.50", "1.5");
        assertFound(engine, "numeric(8,2)", "1.50", new BigDecimal("1.500"));
        assertFound(engine, "char(5)", "'ab'", "ab");
        assertFound(engine, "varchar(20)", "'Zoë''s \"№1\"'", "Zoë's \"№1\"");
        assertFound(engine, "date", "'2026-05-31'", "2026-05-31");
        assertFound(engine, "timestamp", "'2026-05-31 14:30:00'", "2026-05-31T14:30:00");
        assertFound(engine, "boolean", "true", "true");
        assertFound(engine, "double precision", "0.1", "0.1");
        assertFound(engine, "real", "0.5", "0.5");
        assertFound(engine, "time", "'14:30:05'", "14:30:05");
        assertFound(engine, engine == Engine.POSTGRESQL ? "bytea" : "varbinary(4)", binary(engine), "00ff10");
    }

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"H2", "POSTGRESQL"})
    void textIsReadWithItsOffsetWhereAColumnKeepsOne(Engine engine) {
        assertFound(
                engine,
                "timestamp with time zone",
                "timestamp with time zone '2026-05-31 14:30:00+02:00'",
                "2026-05-31T12:30:00Z");
    }

    private static String binary(Engine engine) {
        return engine == Engine.POSTGRESQL ? "'\\x00ff10'" : "x'00ff10'";
    }

    private static void assertFound(Engine engine, String type, String literal, Object given) {
        Database database = engine.database()
                .run(
                        "create table tag (id " + type + " primary key)",
                        "create table note (note_id int primary key, tag_id " + type
                                + " references tag (id) on delete cascade)",
                        "insert into tag values (" + literal + ")",
                        "insert into note values (1, " + literal + ")");

        Plan plan = plan(database, Selection.of("tag").key(given));

        assertThat(plan.notFound()).as(type).isEmpty();
        assertThat(plan.counts()).as(type).containsEntry("tag", 1L).containsEntry("note", 1L);
    }

    @ParameterizedTest
    @ValueSource(strings = {"abc", "", " 1", "1 ", "+1", "01", "1.0", "0x1", "١", "2147483648", "1e0", "null", "1\n"})
    void textThatIsNoNumberIsRefusedNamingTableColumnTypeAndValue(String text) {
        Database database = Schemas.threeLevels(Engine.H2);

        assertThatThrownBy(() -> plan(database, Selection.of("hive").key(text)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("hive.hive_id is INTEGER")
                .hasMessageContaining("'" + text.replace("\n", "\\u000a") + "'");
    }

    @OnEveryEngine
    void hostileTextIsOnlyEverAValue(Engine engine) {
        Database database = Schemas.threeLevels(engine)
                .run("create table tag (name varchar(100) primary key)", "insert into tag values ('plain'), ('')");
        List<String> before = database.contents(TABLES);
        List<String> hostile = List.of(
                "1; drop table hive",
                "'; drop table hive; --",
                "' or '1'='1",
                "\"",
                "\\'",
                "%",
                "{fn now()}",
                "$1",
                "?",
                "🐝 ünïcødé \u202e",
                "x".repeat(10_000));

        for (String text : hostile) {
            assertThat(plan(database, Selection.of("tag").key(text)).isEmpty())
                    .as(text)
                    .isTrue();
            assertThatThrownBy(() -> plan(database, Selection.of("hive").key(text)))
                    .isInstanceOf(InvalidRequestException.class)
                    .satisfies(refused -> assertThat(refused.getMessage()).hasSizeLessThan(300));
            assertThatThrownBy(() -> plan(database, Selection.of(text).key(1)))
                    .isInstanceOf(InvalidRequestException.class);
        }
        assertThat(database.contents(TABLES)).isEqualTo(before);
        assertThat(database.count("tag")).isEqualTo(2);
    }

    @OnEveryEngine
    void textThatNoDatabaseCanHoldIsRefused(Engine engine) {
        Database database = engine.database().run("create table tag (name varchar(100) primary key)");

        assertThatThrownBy(() -> plan(database, Selection.of("tag").key("half \ud83d")))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("\\ud83d");
        assertThatThrownBy(() -> plan(database, Selection.of("tag").key("nul \0")))
                .isInstanceOf(InvalidRequestException.class);
    }

    private static Plan plan(Database database, Selection selection) {
        return Vacancy.over(database.source()).plan(selection, By.user("odile"));
    }
}
