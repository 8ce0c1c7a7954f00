package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.params.provider.Arguments.arguments;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.DatabaseException;
import dev.vacancy.Limits;
import dev.vacancy.NotAsPlannedException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.UUID;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;

/** A restore proves what it did, and its plan says the same beforehand. */
class RestoreProofTest {
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final By ODILE = By.user("odile");

    private static Vacancy vacancy(Database database, RuleBook book) {
        Ddl.of(database.source(), book).apply();
        return Vacancy.over(database.source(), book);
    }

    private static UUID delete(Vacancy vacancy, Selection selection) {
        return vacancy.run(Approval.of(vacancy.plan(selection, ODILE))).runId();
    }

    private static RestorePlan plan(Vacancy vacancy, UUID run) {
        return vacancy.history().planRestore(run, ODILE);
    }

    private static RestoreOutcome restore(Vacancy vacancy, UUID run) {
        return vacancy.history().restore(Approval.of(plan(vacancy, run)));
    }

    /** PostgreSQL and SQLite have triggers that make an insertion do nothing. */
    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "SQLITE"})
    void anInsertionThatATriggerSwallows(Engine engine) {
        Database database = engine.database()
                .run("create table hive (hive_id integer primary key)", "insert into hive values (1), (2)");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").key(1));
        Approval agreed = Approval.of(plan(vacancy, run));
        if (engine == Engine.POSTGRESQL) {
            database.run(
                    "create function no() returns trigger language plpgsql as $$ begin return null; end $$",
                    "create trigger swallow before insert on hive for each row execute function no()");
        } else {
            database.run("create trigger swallow before insert on hive begin select raise(ignore); end");
        }

        assertThatThrownBy(() -> vacancy.history().restore(agreed))
                .isInstanceOf(NotAsPlannedException.class)
                .hasMessageContaining("insert hive 1, and did not");

        assertThat(plan(vacancy, run).conflicts()).singleElement().satisfies(conflict -> {
            assertThat(conflict.key()).isEqualTo("1");
            assertThat(conflict.reason())
                    .isEqualTo("the database was told to insert it, and did not, without an error");
        });
        assertThat(database.rows("select hive_id from hive")).containsExactly("2");
        assertThat(vacancy.history().runs(HistoryQuery.all())).hasSize(1);
    }

    @Test
    void aRowThatARuleOfPostgresSwallows() {
        Database database = Engine.POSTGRESQL
                .database()
                .run("create table hive (hive_id integer primary key)", "insert into hive values (1)");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").key(1));
        Approval agreed = Approval.of(plan(vacancy, run));
        database.run("create rule swallow as on insert to hive do instead nothing");

        assertThatThrownBy(() -> vacancy.history().restore(agreed)).isInstanceOf(NotAsPlannedException.class);
        assertThat(plan(vacancy, run).conflicts()).hasSize(1);
    }

    @OnEveryEngine
    void whatATriggerMakesAnotherValueOf(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(20), seen integer)",
                        "insert into hive values (1, 'Fellside', 3)");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").key(1));
        Approval agreed = Approval.of(plan(vacancy, run));
        switch (engine) {
            case POSTGRESQL ->
                database.run(
                        "create function seen() returns trigger language plpgsql as $$ begin new.seen = 0; return new; end $$",
                        "create trigger seen before insert on hive for each row execute function seen()");
            case MARIADB -> database.run("create trigger seen before insert on hive for each row set new.seen = 0");
            case SQLITE ->
                database.run(
                        "create trigger seen after insert on hive begin update hive set seen = 0 where hive_id = new.hive_id; end");
            case H2 ->
                database.run("create trigger seen before insert on hive for each row as $$org.h2.api.Trigger create() {"
                        + " return (connection, before, after) -> after[2] = 0; }$$");
        }

        assertThatThrownBy(() -> vacancy.history().restore(agreed))
                .isInstanceOf(NotAsPlannedException.class)
                .hasMessageContaining("hive 1 would not come back as it was")
                .hasMessageContaining("something else of seen");
        assertThat(plan(vacancy, run).conflicts())
                .extracting(Conflict::reason)
                .containsExactly("it would not come back as it was: the database made something else of seen");
        assertThat(database.count("hive")).isZero();

        Vacancy easier = vacancy(database, BOOK.ignoringChangesIn("hive.seen"));
        restore(easier, run);
        assertThat(database.rows("select name, seen from hive")).containsExactly("Fellside|0");
    }

    /** Each of them is made when the records have gone, and refuses one of four. */
    @ParameterizedTest
    @MethodSource("judges")
    void whatOnlyTheDatabaseCanJudgeIsToldBeforehand(Engine engine, String name, String judge, int refused) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(20), weight integer, kind varchar(9))",
                        "insert into hive values (1, 'Fellside', 12, 'a'), (2, 'Quarry', 30, 'b'), (3, null, 8, null),"
                                + " (4, 'Orchard', 9, 'c'), (5, 'QUARRY', 31, 'b'), (6, null, 7, null)",
                        "create table note (note_id integer primary key, hive_id integer not null references hive(hive_id) on delete cascade)",
                        "insert into note values (10, 1), (11, 2), (12, 3)");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").keys(List.of(1, 2, 3, 4)));
        Approval agreed = Approval.of(plan(vacancy, run));
        database.run(Stream.of(judge.split("(?<!\\\\);"))
                .map(statement -> statement.replace("\\;", ";"))
                .toArray(String[]::new));
        List<String> before = database.rows("select hive_id, name, weight, kind from hive order by 1");

        assertThat(plan(vacancy, run).conflicts()).singleElement().satisfies(conflict -> {
            assertThat(conflict.table()).isEqualTo("hive");
            assertThat(conflict.key()).isEqualTo(String.valueOf(refused));
            assertThat(conflict.reason()).isEqualTo(name + " of hive refuses it");
        });
        assertThatThrownBy(() -> vacancy.history().restore(agreed)).isInstanceOf(DatabaseException.class);
        assertThat(database.rows("select hive_id, name, weight, kind from hive order by 1"))
                .isEqualTo(before);
    }

    static Stream<Arguments> judges() {
        String any = "a constraint, a trigger or a rule";
        return Stream.of(
                arguments(
                        Engine.H2,
                        "light",
                        "alter table hive add constraint light check (hive_id > 4 or weight < 20)",
                        2),
                arguments(
                        Engine.POSTGRESQL,
                        "light",
                        "alter table hive add constraint light check (hive_id > 4 or weight < 20)",
                        2),
                arguments(
                        Engine.MARIADB,
                        "light",
                        "alter table hive add constraint light check (hive_id > 4 or weight < 20)",
                        2),
                arguments(
                        Engine.SQLITE,
                        "a check",
                        "alter table hive add column light integer check (hive_id > 4 or weight < 20)",
                        2),
                arguments(Engine.POSTGRESQL, "by_name", "create unique index by_name on hive (lower(name))", 2),
                arguments(Engine.SQLITE, "by_name", "create unique index by_name on hive (lower(name))", 2),
                arguments(
                        Engine.MARIADB,
                        "by_name",
                        "alter table hive add column small varchar(20) as (lower(name));create unique index by_name on hive (small)",
                        2),
                arguments(Engine.POSTGRESQL, "heavy", "create unique index heavy on hive (kind) where weight > 20", 2),
                arguments(Engine.SQLITE, any, "create unique index heavy on hive (kind) where weight > 20", 2),
                arguments(
                        Engine.POSTGRESQL,
                        "apart",
                        "create extension if not exists btree_gist;alter table hive add constraint apart exclude using gist (kind with =)",
                        2),
                arguments(
                        Engine.POSTGRESQL,
                        "once",
                        "alter table hive add constraint once unique nulls not distinct (name)",
                        3),
                arguments(
                        Engine.H2, "once", "alter table hive add constraint once unique nulls not distinct (name)", 3),
                arguments(
                        Engine.POSTGRESQL,
                        "deferred",
                        "create function never() returns trigger language plpgsql as $$ begin if new.hive_id = 4 then raise"
                                + " exception 'never by the trigger deferred'\\; end if\\; return new\\; end $$;create trigger deferred before insert on hive"
                                + " for each row execute function never()",
                        4),
                arguments(
                        Engine.SQLITE,
                        any,
                        "create trigger never before insert on hive when new.hive_id = 4 begin select raise(abort, 'no')\\; end",
                        4));
    }

    /** A restore is a change as well; what went comes back with the time that it had. */
    @Test
    void aTimeOfTheLastChangeThatMariaDbSets() {
        Database database = Engine.MARIADB
                .database()
                .run(
                        "create table hive (hive_id integer primary key, ended timestamp(6) null,"
                                + " changed timestamp(6) not null default current_timestamp(6) on update current_timestamp(6))",
                        "create table note (note_id integer primary key, hive_id integer null,"
                                + " changed timestamp(6) not null default current_timestamp(6) on update current_timestamp(6),"
                                + " foreign key (hive_id) references hive(hive_id) on delete set null)",
                        "insert into hive values (1, null, '2026-01-02 03:04:05'), (2, null, '2026-01-02 03:04:05')",
                        "insert into note values (10, 2, '2026-01-02 03:04:05')");
        RuleBook book = BOOK.marker("hive", Marker.timestamp("ended")).soft("hive");
        Vacancy vacancy = vacancy(database, book);
        UUID marked = delete(vacancy, Selection.of("hive").key(1));
        UUID gone = delete(vacancy, Selection.of("hive").key(2).hard());
        RestorePlan ofGone = plan(vacancy, gone);
        RestorePlan ofMarked = plan(vacancy, marked);
        vacancy.history().restore(Approval.of(ofGone));
        vacancy.history().restore(Approval.of(ofMarked));

        String told = " at each change, so it tells of the restore.";
        assertThat(ofGone.left()).containsExactly("The database sets note.changed" + told);
        assertThat(ofMarked.left()).containsExactly("The database sets hive.changed" + told);
        assertThat(database.rows("select hive_id, ended, changed > '2026-06-01' from hive order by 1"))
                .containsExactly("1|null|1", "2|null|0");
        assertThat(database.rows("select hive_id from note")).containsExactly("2");
    }

    @OnEveryEngine
    void aTriggerThatStampsTheMarkerFiner(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(20), ended "
                                + (engine == Engine.MARIADB ? "datetime(6)" : "timestamp(6)")
                                + ")",
                        "insert into hive values (1, 'Fellside', null)");
        switch (engine) {
            case POSTGRESQL ->
                database.run(
                        "create function fine() returns trigger language plpgsql as $$ begin if new.ended is not null then"
                                + " new.ended = new.ended + interval '7 microseconds'; end if; return new; end $$",
                        "create trigger fine before update on hive for each row execute function fine()");
            case MARIADB ->
                database.run("create trigger fine before update on hive for each row"
                        + " set new.ended = new.ended + interval 7 microsecond");
            case SQLITE ->
                database.run(
                        "create trigger fine after update of ended on hive when new.ended is not null begin"
                                + " update hive set ended = strftime('%Y-%m-%d %H:%M:%f', new.ended, '+0.007 seconds') where hive_id = new.hive_id; end");
            case H2 ->
                database.run("create trigger fine before update on hive for each row as $$org.h2.api.Trigger create() {"
                        + " return (connection, before, after) -> after[2] = after[2] == null ? null :"
                        + " ((java.time.LocalDateTime) after[2]).plusNanos(7000); }$$");
        }
        Vacancy vacancy =
                vacancy(database, BOOK.marker("hive", Marker.timestamp("ended")).soft("hive"));

        UUID run = delete(vacancy, Selection.of("hive").key(1));
        assertThat(plan(vacancy, run).left()).isEmpty();
        restore(vacancy, run);

        assertThat(database.rows("select * from hive")).containsExactly("1|Fellside|null");
    }

    /** What it held there is lost by whoever dropped the column; of a record that stayed nothing has to be written there. */
    @OnEveryEngine
    void aColumnThatWasDroppedHindersOnlyWhatHasToBeMadeAgain(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, ended timestamp null, wood varchar(20))",
                        "insert into hive values (1, null, 'larch'), (2, null, 'larch'), (3, null, null)");
        RuleBook book = BOOK.marker("hive", Marker.timestamp("ended")).soft("hive");
        UUID marked = delete(vacancy(database, book), Selection.of("hive").key(1));
        UUID gone = delete(
                vacancy(database, book),
                Selection.of("hive").keys(List.of(2, 3)).hard());
        database.run("drop view active_hive", "alter table hive drop column wood");
        Vacancy now = Vacancy.over(database.source(), book);

        restore(now, marked);

        assertThat(database.rows("select hive_id, ended from hive")).containsExactly("1|null");
        assertThat(plan(now, gone).conflicts()).singleElement().satisfies(conflict -> {
            assertThat(conflict.key()).isEqualTo("2");
            assertThat(conflict.reason()).contains("the column wood isn't there any more");
        });
    }

    /** Where it can't be tried, or not as a whole, the plan says so, and the restore is what tells. */
    @OnEveryEngine
    void whatIsNotTriedIsSaid(Engine engine) throws SQLException {
        Database database = engine.database()
                .run("create table reading (reading_id integer primary key, weight integer check (weight < 100))");
        try (Connection connection = database.connect();
                PreparedStatement insert = connection.prepareStatement("insert into reading values (?, 5)")) {
            connection.setAutoCommit(false);
            for (int i = 0; i < 12_000; i++) {
                insert.setInt(1, i);
                insert.addBatch();
            }
            insert.executeBatch();
            connection.commit();
        }
        Vacancy vacancy = vacancy(database, BOOK);
        UUID many = delete(
                vacancy,
                Selection.of("reading").where(Criteria.column("reading_id").atLeast(1)));
        UUID one = delete(vacancy, Selection.of("reading").key(0));

        assertThat(plan(vacancy, many).left())
                .containsExactly("What checks, triggers and the like of reading say was tried with the first 10,000"
                        + " records only.");
        assertThat(plan(vacancy, one).left()).isEmpty();
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            assertThat(plan(vacancy.joining(connection), one).left())
                    .containsExactly("What checks, triggers and the like of reading say of it was not tried, inside the"
                            + " application's transaction.");
            connection.rollback();
        }
        assertThat(database.count("reading")).isZero();
        restore(vacancy, many);
        assertThat(database.count("reading")).isEqualTo(11_999);
    }

    /** SQLite has one writer, for whom a restore waits anyway. */
    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"H2", "POSTGRESQL", "MARIADB"})
    void whoeverIsWritingThereIsNoConflict(Engine engine) throws SQLException {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, weight integer check (weight < 100))",
                        "insert into hive values (1, 12)");
        Vacancy vacancy = vacancy(database, BOOK).withLimits(Limits.defaults().lockWait(Duration.ofMillis(300)));
        UUID run = delete(vacancy, Selection.of("hive").key(1));

        try (Connection other = database.connect();
                Statement statement = other.createStatement()) {
            other.setAutoCommit(false);
            statement.executeUpdate("insert into hive values (1, 13)");
            RestorePlan plan = plan(vacancy, run);
            other.rollback();

            assertThat(plan.conflicts()).isEmpty();
            assertThat(plan.left()).singleElement().asString().contains("somebody else is changing what it would meet");
        }
        restore(vacancy, run);
        assertThat(database.count("hive")).isEqualTo(1);
    }

    /** H2's triggers are Java code, and write by the same connection. */
    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "MARIADB", "SQLITE"})
    void whatATriggerWritesWhileARestoreIsTriedIsTakenBack(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "create table arrival (hive_id integer)",
                        "insert into hive values (1)");
        if (engine == Engine.POSTGRESQL) {
            database.run(
                    "create function arrive() returns trigger language plpgsql as $$ begin insert into arrival values"
                            + " (new.hive_id); return new; end $$",
                    "create trigger arrive after insert on hive for each row execute function arrive()");
        } else {
            database.run("create trigger arrive after insert on hive for each row "
                    + (engine == Engine.SQLITE ? "begin " : "") + "insert into arrival values (new.hive_id)"
                    + (engine == Engine.SQLITE ? "; end" : ""));
        }
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").key(1));

        RestorePlan plan = plan(vacancy, run);
        assertThat(plan.conflicts()).isEmpty();
        assertThat(database.rows("select count(*) from arrival")).containsExactly("0");
        assertThat(database.count("hive")).isZero();

        vacancy.history().restore(Approval.of(plan));
        assertThat(database.rows("select hive_id from arrival")).containsExactly("1");
    }

    @Test
    void whoMayNotWriteCanPlanARestore() {
        Database database = Engine.POSTGRESQL
                .database()
                .run(
                        "create table hive (hive_id integer primary key, weight integer check (weight < 100))",
                        "insert into hive values (1, 12)");
        UUID run = delete(vacancy(database, BOOK), Selection.of("hive").key(1));
        database.run(
                "create role larkmoor_planner",
                "grant usage on schema public to larkmoor_planner",
                "grant select on all tables in schema public to larkmoor_planner");
        DataSource source = (DataSource) Proxy.newProxyInstance(
                DataSource.class.getClassLoader(), new Class<?>[] {DataSource.class}, (proxy, method, arguments) -> {
                    Connection connection = database.source().getConnection();
                    connection.createStatement().execute("set role larkmoor_planner");
                    return connection;
                });

        RestorePlan plan = plan(Vacancy.over(source, BOOK), run);

        assertThat(plan.conflicts()).isEmpty();
        assertThat(plan.left())
                .containsExactly("What checks, triggers and the like of hive say of it could not be tried: the database"
                        + " refused that for another reason than the records, such as a missing right.");
    }

    /** Without its strict mode MariaDB cuts what has no room, and only warns of it; of bytes that isn't foreseen. */
    @Test
    void aColumnThatHasBecomeNarrower() throws SQLException {
        Database database = Engine.MARIADB
                .database()
                .run(
                        "create table hive (hive_id integer primary key, picture blob)",
                        "insert into hive values (1, repeat('x', 300))");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").key(1));
        database.run("alter table hive modify picture tinyblob");

        try (Connection lax = database.connect();
                Statement statement = lax.createStatement()) {
            statement.execute("set sql_mode = ''");
            Vacancy unsuspecting = Vacancy.over(Database.always(lax), BOOK);
            assertThatThrownBy(() -> restore(unsuspecting, run)).hasMessageContaining("something else of picture");
        }
        assertThat(database.count("hive")).isZero();
    }

    /** SQLite takes any value in any column, but for null. */
    @OnEveryEngine
    void columnsThatCanNotHoldAnyMoreWhatTheyHeldAreToldBeforehand(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(20), code varchar(9),"
                                + " weight numeric(8, 3), wood varchar(9))",
                        "insert into hive values (1, 'Fellside', '12', 10.5, 'fir'), (2, 'Fellside One', '12', 10.5, 'fir'),"
                                + " (3, 'Fell', 'a12', 10.5, 'fir'), (4, 'Fell', '12', 1234.5, 'fir'),"
                                + " (5, 'Fell', '99999', 10.5, 'fir'), (6, 'Fell', '12', 10.125, 'fir'),"
                                + " (7, 'Fell', '12', 10.5, null)");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").where(Criteria.parse("hive_id > 0")));
        database.run(
                "drop table hive",
                "create table hive (hive_id integer primary key, name varchar(8), code smallint, weight numeric(5, 2),"
                        + " wood varchar(9) not null)");
        Vacancy now = Vacancy.over(database.source(), BOOK);

        RestorePlan plan = plan(now, run);

        assertThat(plan.conflicts())
                .extracting(conflict ->
                        conflict.key() + " " + conflict.reason().replaceAll("[ ,].* (in [a-z]+)[ ,].*", " $1"))
                .containsExactlyInAnyOrder(
                        engine == Engine.SQLITE
                                ? new String[] {"7 it in wood"}
                                : new String[] {
                                    "2 what in name",
                                    "3 what in code",
                                    "4 what in weight",
                                    "5 what in code",
                                    "6 what in weight",
                                    "7 it in wood"
                                });
        assertThat(database.count("hive")).isZero();
    }

    /** Each alone has room in a packet of MariaDB, and together they haven't. */
    @OnEveryEngine
    void largeRecordsComeBackOneByOne(Engine engine) throws SQLException {
        Database database = engine.database()
                .run("create table picture (picture_id integer primary key, content "
                        + (engine == Engine.POSTGRESQL ? "bytea" : engine == Engine.MARIADB ? "longblob" : "blob")
                        + ")");
        byte[] content = new byte[6_000_000];
        new Random(1887).nextBytes(content);
        try (Connection connection = database.connect();
                PreparedStatement insert = connection.prepareStatement("insert into picture values (?, ?)")) {
            for (int i = 1; i <= 3; i++) {
                insert.setInt(1, i);
                insert.setBytes(2, content);
                insert.executeUpdate();
            }
        }
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("picture").keys(List.of(1, 2, 3)));

        assertThat(restore(vacancy, run).counts()).containsEntry("picture", 3L);

        assertThat(database.rows("select count(*) from picture where length(content) >= 6000000"))
                .containsExactly("3");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** A foreign key that must hold at once, whatever the order of the records. MariaDB can't delete such records in the first place. */
    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"H2", "POSTGRESQL", "SQLITE"})
    void recordsThatHaveToPointAtOthersOfTheirTable(Engine engine) {
        comesBackInAnyOrder(engine, "mother_id integer not null");
    }

    /** A check that the foreign key would break if it were set afterwards. */
    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "SQLITE"})
    void recordsWhoseLinkToTheirOwnTableIsChecked(Engine engine) {
        comesBackInAnyOrder(engine, "mother_id integer check (mother_id is not null)");
    }

    private static void comesBackInAnyOrder(Engine engine, String link) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id integer primary key, " + link
                                + ", foreign key (mother_id) references queen (queen_id))",
                        "insert into queen values (5000, 5000)");
        // A younger one has a lower number, so that the order of the keys is the wrong one.
        for (int i = 4_999; i > 2_600; i--) {
            database.run("insert into queen values (" + i + ", " + (i % 7 == 0 ? 5_000 : i + 1) + ")");
        }
        Vacancy vacancy = vacancy(database, BOOK.on("queen.mother_id", Clause.cascade()));
        List<String> before = database.contents("queen");
        UUID run = delete(vacancy, Selection.of("queen").key(5000));
        assertThat(database.count("queen")).isZero();

        restore(vacancy, run);

        assertThat(database.contents("queen")).isEqualTo(before);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** Each deletion of the chain empties the next one's link: what is put back is another thing than what comes back. */
    @OnEveryEngine
    void aChainOfDetachedRecordsComesBackWholeInPortions(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id integer primary key, mother_id integer,"
                                + " foreign key (mother_id) references queen (queen_id) on delete set null)",
                        "insert into queen values (1, null), (2, 1), (3, 2), (4, 3)");
        Vacancy vacancy = vacancy(database, BOOK);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        List<String> before = database.contents("queen");
        Approval approval = Approval.inChunks(vacancy.plan(Selection.of("queen").allRecords(), ODILE));
        BulkOptions one = BulkOptions.defaults().chunk(1);
        BulkRun run = vacancy.bulk().start(approval, one);
        vacancy.bulk().work(run.runId(), one, Exemption.none(), chunk -> {});
        assertThat(database.count("queen")).isZero();

        RestorePlan plan = plan(vacancy, run.runId());
        RestoreOutcome outcome = vacancy.history().restore(Approval.of(plan), 1, portion -> {});

        assertThat(database.contents("queen")).isEqualTo(before);
        assertThat(outcome.counts()).isEqualTo(plan.counts());
        assertThat(outcome.putBack()).isEqualTo(plan.putBack());
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** Their keys share more characters than anybody would keep of one. */
    @OnEveryEngine
    void recordsWhoseKeysAreLongAndAlike(Engine engine) {
        String text =
                engine == Engine.MARIADB ? "varchar(700) character set utf8mb4 collate utf8mb4_bin" : "varchar(3000)";
        Database database = engine.database().run("create table frame (code " + text + " primary key, n integer)");
        String alike = "x".repeat(690);
        for (int i = 1; i <= 30; i++) {
            database.run("insert into frame values ('" + alike + i + "', " + i + ")");
        }
        if (engine != Engine.MARIADB) {
            database.run("insert into frame values ('" + "y".repeat(2600) + "', 31)");
        }
        Vacancy vacancy = vacancy(database, BOOK);
        List<String> before = database.contents("frame");
        UUID run = delete(vacancy, Selection.of("frame").allRecords());

        vacancy.history().restore(Approval.of(plan(vacancy, run)), 10, portion -> {});
        assertThat(database.contents("frame")).isEqualTo(before);

        delete(vacancy, Selection.of("frame").allRecords());
        assertThat(vacancy.history().erase("frame", alike + "7", ODILE)).isEqualTo(2);
        assertThat(database.rows("select count(*) from vacancy_trail_entry where erased_by is not null"))
                .containsExactly("3");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void twoThatWouldBothBeActiveWithTheSameAddress(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id integer primary key, email varchar(40), left_at timestamp null)",
                        "insert into keeper values (1, 'una@larkmoor.example', null)");
        RuleBook book = BOOK.marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper", SoftDelete.defaults().uniqueWhileActive("email"));
        Vacancy vacancy = vacancy(database, book);
        UUID run = delete(vacancy, Selection.of("keeper").key(1).hard());
        database.run("insert into keeper values (2, 'una@larkmoor.example', null)");

        RestorePlan plan = plan(vacancy, run);

        assertThat(plan.conflicts())
                .singleElement()
                .satisfies(conflict -> assertThat(conflict.reason()).isEqualTo("its email is taken by keeper 2"));
        database.run("update keeper set left_at = '2026-05-01 08:00:00' where keeper_id = 2");
        assertThat(plan(vacancy, run).conflicts()).isEmpty();
    }

    /** Whoever has made a record with the same key since gets nothing of the other put into it. */
    @OnEveryEngine
    void anotherRecordThatHasTheKeySince(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "create table photo (photo_id integer primary key, hive_id integer,"
                                + " foreign key (hive_id) references hive (hive_id) on delete set null)",
                        "insert into hive values (1)",
                        "insert into photo values (100, 1)");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").key(1));
        delete(vacancy, Selection.of("photo").key(100));
        database.run("insert into photo values (100, null)");

        RestorePlan plan = plan(vacancy, run);

        assertThat(plan.putBack()).isEmpty();
        assertThat(plan.left())
                .containsExactly("photo 100 stays as it is: it is another record than the one that had this key.");
        restore(vacancy, run);
        assertThat(database.rows("select hive_id from photo")).containsExactly("null");
    }
}
