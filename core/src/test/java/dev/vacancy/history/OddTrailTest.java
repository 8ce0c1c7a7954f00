package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Names, keys and columns that a careless statement or a careless comparison would trip over. */
class OddTrailTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());

    /** Deletes, sees that something is gone, brings it back, and compares. */
    private static void comesBack(Database database, RuleBook book, Selection selection, String... tables) {
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);
        List<String> before = database.contents(tables);

        Outcome outcome = vacancy.run(Approval.of(vacancy.plan(selection, ODILE)));
        assertThat(database.contents(tables)).isNotEqualTo(before);
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE)));

        assertThat(database.contents(tables)).isEqualTo(before);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** H2 writes a row of values in a way that it doesn't read. */
    @Test
    void aValueThatCouldNotBeMadeAgainIsRefusedBeforeItGoes() {
        Database database = Engine.H2
                .database()
                .run(
                        "create table hive (hive_id integer primary key, place row(x integer, y varchar(9)))",
                        "insert into hive values (1, row(1, 'a')), (2, null)");
        RuleBook book = RuleBook.bySchema().trail(Trail.defaults());
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);

        assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").key(1), By.user("odile")))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.IMAGE_NOT_WHOLE))
                .hasMessageContaining("1 record of hive can't be written down whole");
        vacancy.delete(Selection.of("hive").key(2), By.user("odile"));

        assertThat(database.count("hive")).isEqualTo(1);
    }

    @OnEveryEngine
    void namesThatHaveToBeQuoted(Engine engine) {
        Database database = engine.database();
        String q = engine == Engine.MARIADB ? "`" : "\"";
        String odd = q + "select 'x' t0" + q;
        String quote = engine == Engine.MARIADB ? "`a``b\\\\c`" : "\"a\"\"b\\c\"";
        database.run(
                "create table " + odd + " (" + q + "order" + q + " integer primary key, " + quote + " varchar(20), " + q
                        + "p" + q + " integer, " + q + "n" + q + " integer, " + q + "?" + q + " integer)",
                "insert into " + odd + " values (1, 'it''s', 2, 3, 4), (2, null, null, null, null)");

        comesBack(database, BOOK, Selection.of("select 'x' t0").keys(List.of(1, 2)), odd);
    }

    /** Joined with commas these keys are the same. */
    @OnEveryEngine
    void keysThatLookAlikeWhenTheyAreWrittenTogether(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table frame (a varchar(9) not null, b varchar(9) not null, primary key (a, b))",
                "create table wax (wax_id integer primary key, a varchar(9), b varchar(9),"
                        + " foreign key (a, b) references frame (a, b) on delete set null)",
                "insert into frame values ('x,y', 'z'), ('x', 'y,z'), ('x', '')",
                "insert into wax values (1, 'x,y', 'z'), (2, 'x', 'y,z'), (3, 'x', null)");

        comesBack(
                database,
                BOOK,
                Selection.of("frame").keys(List.of(List.of("x,y", "z"), List.of("x", "y,z"), List.of("x", ""))),
                "frame",
                "wax");
    }

    @OnEveryEngine
    void columnsThatTheDatabaseFillsByItself(Engine engine) {
        Database database = engine.database();
        String identity = switch (engine) {
            case POSTGRESQL, H2 -> "integer generated always as identity primary key";
            case MARIADB -> "integer auto_increment primary key";
            case SQLITE -> "integer primary key autoincrement";
        };
        String doubled = engine == Engine.H2
                ? "twice integer generated always as (weight * 2)"
                : "twice integer generated always as (weight * 2) stored";
        database.run(
                "create table reading (reading_id " + identity + ", weight integer, " + doubled
                        + ", taken integer default 7 not null)",
                "insert into reading (weight, taken) values (4, 1), (5, 7)");

        comesBack(database, BOOK, Selection.of("reading").allRecords(), "reading");
        database.run("insert into reading (weight) values (6)");
        assertThat(database.rows("select reading_id from reading order by reading_id"))
                .containsExactly("1", "2", "3");
    }

    @OnEveryEngine
    void moreColumnsThanAFunctionTakesArguments(Engine engine) {
        Database database = engine.database();
        List<String> columns = new ArrayList<>();
        List<String> values = new ArrayList<>();
        for (int i = 0; i < 120; i++) {
            columns.add("c" + i + " varchar(5)");
            values.add(i % 3 == 0 ? "null" : "'v" + i + "'");
        }
        database.run(
                "create table wide (wide_id integer primary key, " + String.join(", ", columns) + ")",
                "insert into wide values (1, " + String.join(", ", values) + ")");

        comesBack(database, BOOK, Selection.of("wide").key(1), "wide");
    }

    /** A record of a table without a key is told from no other, and comes back all the same, twice if it was there twice. */
    @OnEveryEngine
    void recordsWithoutAKey(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table hive (hive_id integer primary key)",
                "create table note (hive_id integer, words varchar(9),"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "insert into hive values (1), (2)",
                "insert into note values (1, 'calm'), (1, 'calm'), (1, null), (2, 'calm')");

        comesBack(database, BOOK, Selection.of("hive").key(1), "hive", "note");
    }

    /** Text that a collation takes for the same is another key, and blanks at the end are a part of it where they count. */
    @OnEveryEngine
    void keysThatACollationMightMixUp(Engine engine) {
        Database database = engine.database();
        String exact = engine == Engine.MARIADB ? " character set utf8mb4 collate utf8mb4_nopad_bin" : "";
        database.run(
                "create table queen (mark varchar(9)" + exact + " primary key, mother varchar(9)" + exact
                        + ", foreign key (mother) references queen (mark) on delete set null)",
                "insert into queen values ('a', null)",
                "insert into queen values ('A', 'a'), ('a ', 'a'), ('\u00e4', 'A')");

        comesBack(database, BOOK, Selection.of("queen").keys(List.of("a", "A")), "queen");
    }

    @OnEveryEngine
    void aRecordThatPointsAtItselfAndTwoThatPointAtEachOther(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table queen (queen_id integer primary key, mother_id integer,"
                        + " foreign key (mother_id) references queen (queen_id) on delete cascade)",
                "insert into queen values (1, 1), (2, null), (3, 2)",
                "update queen set mother_id = 3 where queen_id = 2");

        comesBack(database, BOOK, Selection.of("queen").keys(List.of(1, 2)), "queen");
    }

    /** What hangs on a circle comes back after it, and the circle is whole by then or is told to be on its way. */
    @OnEveryEngine
    void twoThatPointAtEachOtherAndWhatHangsOnThem(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table queen (queen_id integer primary key, mother_id integer,"
                        + " foreign key (mother_id) references queen (queen_id) on delete cascade)",
                "create table mark (mark_id integer primary key, queen_id integer not null,"
                        + " foreign key (queen_id) references queen (queen_id) on delete cascade)",
                "insert into queen values (2, null), (3, 2)",
                "update queen set mother_id = 3 where queen_id = 2",
                "insert into mark values (20, 2), (30, 3)");

        comesBack(database, BOOK, Selection.of("queen").key(2), "queen", "mark");
    }

    @Test
    void partitionsTriggersAndTypesOfPostgres() {
        Database database = Engine.POSTGRESQL.database();
        database.run(
                "create table reading (reading_id integer, taken date, weight real, primary key (reading_id, taken))"
                        + " partition by range (taken)",
                "create table reading_26 partition of reading for values from ('2026-01-01') to ('2027-01-01')",
                "create table reading_27 partition of reading for values from ('2027-01-01') to ('2028-01-01')",
                "create table counted (n integer)",
                "insert into counted values (0)",
                "create function count_it() returns trigger language plpgsql as"
                        + " $$ begin update counted set n = n + 1; return old; end $$",
                "create trigger counting before delete on reading for each row execute function count_it()",
                "insert into reading values (1, '2026-05-01', 0.1), (2, '2027-05-01', 'NaN')");

        comesBack(database, BOOK, Selection.of("reading").allRecords(), "reading", "reading_26", "reading_27");
        assertThat(database.rows("select n from counted")).containsExactly("2");
    }

    @Test
    void otherSchemasOfPostgres() {
        Database database = Engine.POSTGRESQL.database();
        database.schema("yard");
        database.schema("audit");
        database.run(
                "create table yard.hive (hive_id integer primary key)",
                "create table inspection (inspection_id integer primary key, hive_id integer references yard.hive on delete cascade)",
                "insert into yard.hive values (1)",
                "insert into inspection values (10, 1)");

        comesBack(
                database,
                RuleBook.bySchema().schemas("yard").trail(Trail.defaults().inSchema("audit")),
                Selection.of("yard.hive").key(1),
                "yard.hive",
                "inspection");
        assertThat(database.count("audit.vacancy_trail_entry")).isEqualTo(4);
    }

    /** Handed over and then handed on: the second hand keeps what it has. */
    @OnEveryEngine
    void whatWasHandedOnSinceStaysThere(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table keeper (keeper_id integer primary key)",
                "create table inspection (inspection_id integer primary key, keeper_id integer not null,"
                        + " foreign key (keeper_id) references keeper (keeper_id))",
                "insert into keeper values (1), (2), (3)",
                "insert into inspection values (10, 1), (11, 1)");
        RuleBook book = BOOK.on("inspection.keeper_id", Clause.reassign());
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);
        Outcome outcome = vacancy.run(
                Approval.of(vacancy.plan(Selection.of("keeper").key(1).reassigning("inspection.keeper_id", 2), ODILE)));
        database.run("update inspection set keeper_id = 3 where inspection_id = 11");

        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), ODILE);
        vacancy.history().restore(Approval.of(plan));

        assertThat(plan.left()).containsExactly("inspection 11 stays as it is: it was changed since.");
        assertThat(database.rows("select inspection_id, keeper_id from inspection order by inspection_id"))
                .containsExactly("10|1", "11|3");
    }

    /** Without its strict mode MariaDB makes a null of what is larger than a packet, and would have written that down. */
    @Test
    void whatIsLargerThanAPacketOfMariaDb() throws SQLException {
        Database database = Engine.MARIADB.database();
        database.run(
                "create table photo (photo_id integer primary key, pixels longblob, caption longtext, note longtext)",
                "insert into photo values (1, null, 'small', null)");
        try (Connection lax = database.connect();
                Statement statement = lax.createStatement()) {
            statement.execute("set sql_mode = ''");
            statement.execute("insert into photo values (2, repeat('x', 51000000), null, null)");
            statement.execute("insert into photo values (3, null, repeat('y', 34000000), repeat('z', 34000000))");
            Ddl.of(database.source(), BOOK).apply();
            Vacancy vacancy = Vacancy.over(Database.always(lax), BOOK);

            for (int key : List.of(2, 3)) {
                assertThatThrownBy(() -> vacancy.plan(Selection.of("photo").key(key), ODILE))
                        .hasMessageContaining("1 record of photo can't be written down whole")
                        .hasMessageContaining("max_allowed_packet");
            }
            assertThatThrownBy(() -> vacancy.delete(Selection.of("photo").allRecords(), By.program("nightly")))
                    .hasMessageContaining("2 records of photo");
            assertThatThrownBy(() -> vacancy.plan(Emptying.of("photo"), ODILE)).hasMessageContaining("2 records");

            Vacancy without = Vacancy.over(
                    Database.always(lax),
                    RuleBook.bySchema().trail(Trail.defaults().without("photo.pixels", "photo.note")));
            assertThat(without.delete(Selection.of("photo").allRecords(), By.program("nightly"))
                            .total())
                    .isEqualTo(3);
            assertThat(without.history().verify(Optional.empty()).faults()).isEmpty();
        }
    }

    /** Half a character is none to some databases; what is digested is what they keep. */
    @OnEveryEngine
    void reasonsThatNoDatabaseKeepsAsTheyAre(Engine engine) {
        Database database =
                engine.database().run("create table hive (hive_id integer primary key)", "insert into hive values (1)");
        Ddl.of(database.source(), BOOK).apply();
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);

        vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE.because("lost \ud83d here\u0000"))));

        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
        assertThat(vacancy.history().runs(HistoryQuery.all()).get(0).by().reason())
                .hasValue("lost \ufffd here\ufffd");
    }

    @OnEveryEngine
    void aTableWhoseNameHasABlank(Engine engine) {
        Database database = engine.database();
        String q = engine == Engine.MARIADB ? "`" : "\"";
        String table = q + "old hive" + q;
        database.run(
                "create table " + table + " (hive_id integer primary key)",
                "insert into " + table + " values (1), (2)");
        Ddl.of(database.source(), BOOK).apply();
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        Outcome outcome =
                vacancy.run(Approval.of(vacancy.plan(Selection.of("old hive").keys(List.of(1, 2)), ODILE)));

        RestoreOutcome back = vacancy.history()
                .restore(Approval.of(vacancy.history().planRestore(outcome.runId(), "old hive", "2", ODILE)));

        assertThat(database.rows("select hive_id from " + table)).containsExactly("2");
        assertThat(vacancy.history().undoing(back.runId()).keys()).hasSize(1);
    }

    /** H2 stores a name without quotes in capitals, and nobody writes it so. */
    @Test
    void aSchemaOfH2AsItIsWritten() {
        Database database = Engine.H2.database();
        database.run(
                "create schema aud", "create table hive (hive_id integer primary key)", "insert into hive values (1)");

        comesBack(
                database,
                RuleBook.bySchema().trail(Trail.defaults().inSchema("aud")),
                Selection.of("hive").key(1),
                "hive");

        assertThat(database.count("aud.vacancy_trail_entry")).isEqualTo(2);
    }
}
