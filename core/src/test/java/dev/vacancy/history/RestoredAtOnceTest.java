package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.NotAsPlannedException;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Many records that come back together come back as one by one would, and what is in the way of one of them is told of it. */
class RestoredAtOnceTest {
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final int READINGS = 3_000;

    /** A hive with readings. */
    private record Yard(Database database, Vacancy vacancy) {
        static Yard of(Engine engine, RuleBook book, String foreignKey) {
            Database database = engine.database()
                    .run(
                            "create table hive (hive_id integer primary key, name varchar(40), gone_at timestamp null)",
                            "create table reading (reading_id integer primary key, hive_id integer not null,"
                                    + " note varchar(40), foreign key (hive_id) references hive (hive_id) "
                                    + foreignKey + ")",
                            "insert into hive values (1, 'Fell \"1\" \\ ä', null), (2, 'Fell 2', null)",
                            "insert into reading values "
                                    + IntStream.rangeClosed(1, READINGS)
                                            .mapToObj(i -> "(" + i + ", 1, " + (i % 3 == 0 ? "null" : "'calm'") + ")")
                                            .collect(Collectors.joining(", ")));
            Ddl.of(database.source(), book).apply();
            return new Yard(database, Vacancy.over(database.source(), book));
        }

        static Yard of(Engine engine) {
            return of(engine, BOOK, "on delete cascade");
        }

        List<String> contents() {
            return database.contents("hive", "reading");
        }

        UUID delete(int hive) {
            return vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(hive), ODILE)))
                    .runId();
        }

        Approval approval(UUID run) {
            RestorePlan plan = vacancy.history().planRestore(run, ODILE);
            assertThat(plan.conflicts()).isEmpty();
            return Approval.of(plan);
        }

        RestoreOutcome restore(UUID run) {
            return vacancy.history().restore(approval(run));
        }

        /** Nothing of a refused restore is left. */
        void isRefused(Approval approval, Class<? extends Throwable> how, String said) {
            List<String> before = contents();
            long entries = database.count("vacancy_trail_entry");

            assertThatThrownBy(() -> vacancy.history().restore(approval))
                    .isInstanceOf(how)
                    .hasMessageContaining(said);

            assertThat(contents()).isEqualTo(before);
            assertThat(database.count("vacancy_trail_entry")).isEqualTo(entries);
        }
    }

    @OnEveryEngine
    void allOfThemComeBackAndAreWrittenDown(Engine engine) {
        Yard yard = Yard.of(engine);
        List<String> before = yard.contents();
        UUID run = yard.delete(1);

        RestoreOutcome outcome = yard.restore(run);

        assertThat(yard.contents()).isEqualTo(before);
        assertThat(outcome.counts()).containsExactly(Map.entry("hive", 1L), Map.entry("reading", (long) READINGS));
        assertThat(yard.vacancy().history().verify(Optional.empty()).faults()).isEmpty();
        assertThat(yard.vacancy().history().entries(HistoryQuery.all().ofRecord("reading", "2999")))
                .extracting(TrailEntry::action)
                .containsExactly("restored", "deleted");
    }

    @Test
    void postgresIsAskedOnceForEachTableAndNotForEachPortion() {
        Yard yard = Yard.of(Engine.POSTGRESQL);
        Vacancy counted = Vacancy.over(yard.database().counting(), BOOK);
        Approval approval = yard.approval(yard.delete(1));
        int before = yard.database().statements();

        counted.history().restore(approval);

        assertThat(yard.database().statements() - before).isLessThan(40);
        assertThat(yard.database().count("reading")).isEqualTo(READINGS);
    }

    @OnEveryEngine
    void aKeyThatIsTakenSinceThePlan(Engine engine) {
        Yard yard = Yard.of(engine);
        Approval approval = yard.approval(yard.delete(1));
        yard.database().run("insert into reading values (2500, 2, 'another one')");

        yard.isRefused(approval, StalePlanException.class, "reading 2500: there is a record with this key again");
    }

    @OnEveryEngine
    void aParentThatIsGoneSinceThePlan(Engine engine) {
        RuleBook book = BOOK.on("reading.hive_id", Clause.cascade());
        Yard yard = Yard.of(engine, book, "");
        yard.database().run("update reading set hive_id = 2 where reading_id = 2500");
        UUID run = yard.vacancy()
                .run(Approval.of(yard.vacancy().plan(Selection.of("reading").allRecords(), ODILE)))
                .runId();
        Approval approval = yard.approval(run);
        yard.database().run("delete from hive where hive_id = 2");

        yard.isRefused(approval, StalePlanException.class, "reading 2500: its hive 2 (reading.hive_id) isn't there");
    }

    /** What is checked at the commit only would be found when nobody can tell any more which record it is. */
    @ParameterizedTest
    @ValueSource(strings = {"deferrable", "deferrable initially deferred"})
    void whatPostgresChecksLate(String late) {
        RuleBook book = BOOK.on("reading.hive_id", Clause.cascade());
        Yard yard = Yard.of(Engine.POSTGRESQL, book, late);
        yard.database()
                .run(
                        "alter table reading drop constraint reading_pkey",
                        "alter table reading add primary key (reading_id) " + late);
        Vacancy vacancy = Vacancy.over(yard.database().source(), book);
        Yard now = new Yard(yard.database(), vacancy);
        UUID run = vacancy.run(Approval.of(vacancy.plan(Selection.of("reading").allRecords(), ODILE)))
                .runId();
        Approval approval = now.approval(run);
        yard.database().run("insert into reading values (2500, 2, 'another one')");

        now.isRefused(approval, StalePlanException.class, "reading 2500: there is a record with this key again");

        yard.database().run("delete from reading", "delete from hive where hive_id = 1");
        now.isRefused(approval, StalePlanException.class, "reading 1: its hive 1 (reading.hive_id) isn't there");
    }

    /** What a trigger does after the insertion isn't seen by the insertion. */
    @ParameterizedTest
    @CsvSource({
        "before insert on reading for each row, if new.reading_id = 2500 then new.note := 'other'; end if; return new",
        "after insert on reading for each statement, update reading set note = 'other' where reading_id = 2500; return null"
    })
    void whatATriggerMakesOfOneOfThem(String when, String what) {
        Yard yard = Yard.of(Engine.POSTGRESQL);
        Approval approval = yard.approval(yard.delete(1));
        yard.database()
                .run(
                        "create function other() returns trigger language plpgsql as $$ begin " + what + "; end $$",
                        "create trigger other " + when + " execute function other()");

        yard.isRefused(approval, NotAsPlannedException.class, "reading 2500 would not come back as it was");
    }

    /** Whoever lets a database pass by its foreign keys gets no orphans from a restore. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "alter table reading alter constraint reading_hive_id_fkey not enforced",
                "alter table reading disable trigger all",
                "set session_replication_role = 'replica'"
            })
    void aParentThatIsGoneWhereNothingIsChecked(String unchecked) throws SQLException {
        RuleBook book = BOOK.on("reading.hive_id", Clause.cascade());
        Yard yard = Yard.of(Engine.POSTGRESQL, book, "");
        UUID run = yard.vacancy()
                .run(Approval.of(yard.vacancy().plan(Selection.of("reading").allRecords(), ODILE)))
                .runId();
        try (Connection connection = yard.database().connect();
                Statement statement = connection.createStatement()) {
            statement.execute(unchecked);
            Vacancy vacancy = Vacancy.over(Database.always(connection), book);
            Approval approval = Approval.of(vacancy.history().planRestore(run, ODILE));
            yard.database().run("delete from hive where hive_id = 1");

            new Yard(yard.database(), vacancy)
                    .isRefused(
                            approval, StalePlanException.class, "reading 1: its hive 1 (reading.hive_id) isn't there");
        }
    }

    /** Names and values that mean something to SQL, to JSON, or to statements of ours. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "\"p\" integer, \"e\" text, \"content\" text, \"back\" text, primary key (\"p\")"
                        + "; n, 'e', repeat('c', 9000), null",
                "\"A \"\"b\"\" 'c' \\d\" integer primary key, \"select\" text"
                        + "; n, E'\\\\ \" '' \\t\\r\\x01 ä 🐝 {\"a\": 1}'",
                "a character(8), b varchar(20) collate \"C\", c numeric(9, 3), d text, primary key (a, b, c)"
                        + "; 'k' || n, 'a,\\ ' || n, n + 0.500, ''",
                "id integer generated always as identity primary key, name text, size integer generated always as"
                        + " (length(name)) stored; default, 'x', default",
                "id uuid primary key, mood mood, path integer[], sizes range, part part, net inet, raw bytea, doc jsonb"
                        + "; gen_random_uuid(), 'calm', array[n, null], '[1,2)', row(n, 'b \"c\"'),"
                        + " '10.0.0.1', '\\x00ff5c', '{\"a\":  2.50}'",
                "id timestamptz primary key, f double precision, r real, t timetz, i interval"
                        + "; timestamptz '2026-03-29 01:00+00' + n * interval '1 second',"
                        + " 'NaN', 0.1, '24:00', '1 mon -2 days'"
            })
    void oddTablesOfPostgresComeBackAtOnce(String table) {
        int end = table.lastIndexOf("; ");
        String columns = table.substring(0, end);
        String values = table.substring(end + 2);
        Database database = Engine.POSTGRESQL
                .database()
                .run(
                        "create type mood as enum ('calm', 'cross')",
                        "create type part as (a integer, b text)",
                        "create domain range as int4range",
                        "create table thing (" + columns + ")");
        database.run(IntStream.rangeClosed(1, 900)
                .mapToObj(n -> "insert into thing values (" + values.replaceAll("\\bn\\b", String.valueOf(n)) + ")")
                .toArray(String[]::new));
        Ddl.of(database.source(), BOOK).apply();
        Vacancy vacancy = Vacancy.over(database.counting(), BOOK);
        List<String> before = database.rows("select cast(thing as text) from thing order by 1");
        UUID run = vacancy.run(Approval.of(vacancy.plan(Selection.of("thing").allRecords(), ODILE)))
                .runId();
        Approval approval = Approval.of(vacancy.history().planRestore(run, ODILE));
        int statements = database.statements();

        vacancy.history().restore(approval);

        assertThat(database.rows("select cast(thing as text) from thing order by 1"))
                .isEqualTo(before);
        assertThat(database.statements() - statements).isLessThan(25);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void oneOfThemWasErased(Engine engine) {
        Yard yard = Yard.of(engine);
        UUID run = yard.delete(1);
        yard.vacancy().history().erase("reading", "2500", ODILE);

        RestorePlan plan = yard.vacancy().history().planRestore(run, ODILE);
        yard.vacancy().history().restore(Approval.of(plan));

        assertThat(plan.counts()).containsEntry("reading", READINGS - 1L);
        assertThat(yard.database().count("reading")).isEqualTo(READINGS - 1);
        assertThat(yard.vacancy().history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void aTableThatHasGotAColumnSince(Engine engine) {
        Yard yard = Yard.of(engine);
        UUID run = yard.delete(1);
        yard.database().run("alter table reading add column unit varchar(10) default 'kg'");
        Yard now = new Yard(yard.database(), Vacancy.over(yard.database().source(), BOOK));

        now.restore(run);

        assertThat(yard.database().rows("select unit, count(*) from reading group by unit"))
                .containsExactly("kg|" + READINGS);
        assertThat(now.vacancy().history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void aParentThatIsSoftDeletedSinceThePlan(Engine engine) {
        RuleBook book =
                BOOK.marker("hive", Marker.timestamp("gone_at")).soft("hive").on("reading.hive_id", Clause.cascade());
        Yard yard = Yard.of(engine, book, "");
        UUID run = yard.vacancy()
                .run(Approval.of(yard.vacancy().plan(Selection.of("reading").allRecords(), ODILE)))
                .runId();
        Approval approval = yard.approval(run);
        yard.delete(1);

        yard.isRefused(approval, StalePlanException.class, "its hive 1 (reading.hive_id) was soft-deleted since");
    }
}
