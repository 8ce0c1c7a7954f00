package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.ErasureOutcome;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
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
import java.time.LocalDateTime;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.h2.jdbcx.JdbcDataSource;
import org.junit.jupiter.api.Test;

/** One record of many is asked for, brought back and erased by its key, whatever the key is made of. */
class TrailKeysTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());

    /** Bytes of one length look alike to Java, and each database writes them in a way of its own. */
    @OnEveryEngine
    void keysOfBytes(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").allRecords());

        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("hive", "0a02")))
                .singleElement()
                .satisfies(entry -> assertThat(entry.key()).isEqualTo("0a02"));
        RestorePlan one = vacancy.history().planRestore(run, "hive", "0a02", ODILE);
        assertThat(one.counts()).containsEntry("hive", 1L).containsEntry("inspection", 1L);
        vacancy.history().restore(Approval.of(one));
        assertThat(database.rows("select hive_no from hive")).containsExactly("2");
        assertThat(database.rows("select inspection_no from inspection")).containsExactly("2");

        assertThatThrownBy(() -> vacancy.history().erase("hive", "0a02", ODILE))
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.RUN_STATE);
        assertThat(vacancy.history().erase("hive", "0a01", ODILE))
                .as("with its inspection")
                .isEqualTo(2);
        RestorePlan rest = vacancy.history().planRestore(run, ODILE);
        assertThat(rest.left()).anySatisfy(left -> assertThat(left).contains("hive (erased) was erased"));
        assertThat(rest.left()).anySatisfy(left -> assertThat(left).contains("inspection (erased) was erased"));
        assertThat(rest.conflicts()).isEmpty();
    }

    @OnEveryEngine
    void allOfManyKeysOfBytesAreOpenedAgain(Engine engine) {
        Database database = hives(engine).run("alter table inspection add gone_at timestamp null");
        Vacancy vacancy = vacancy(
                database, BOOK.marker("inspection", Marker.timestamp("gone_at")).soft("inspection"));
        UUID run = delete(vacancy, Selection.of("inspection").allRecords());
        assertThat(vacancy.history().deleted("inspection", 10))
                .hasSize(3)
                .allSatisfy(each -> assertThat(each.run()).contains(run));

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));

        assertThat(database.rows("select count(*) from inspection where gone_at is null"))
                .containsExactly("3");
    }

    /** A server can be told to write bytes in another way than by their digits. */
    @Test
    void keysOfBytesThatPostgresWritesEscaped() {
        Database database = hives(Engine.POSTGRESQL);
        database.run(
                "do $$ begin execute format('alter database %I set bytea_output = escape', current_database()); end $$");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("hive").keys(List.of("0a01", "0a02")));
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, "hive", "0a01", ODILE)));
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));

        assertThat(database.rows("show bytea_output")).containsExactly("escape");
        assertThat(database.rows("select encode(hive_id, 'hex') from hive order by 1"))
                .containsExactly("0a01", "0a02", "0a03");
        assertThat(database.count("inspection")).isEqualTo(3);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** Joined with commas alone, these two keys would be the same. */
    @OnEveryEngine
    void keysThatHoldCommas(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table frame (a varchar(9) not null, b varchar(9) not null, primary key (a, b))",
                "insert into frame values ('x,y', 'z'), ('x', 'y,z'), ('x\\', 'y')");
        Vacancy vacancy = vacancy(database, BOOK);
        UUID run = delete(vacancy, Selection.of("frame").allRecords());

        assertThat(vacancy.history().entries(HistoryQuery.all()))
                .extracting(TrailEntry::key)
                .containsExactlyInAnyOrder("x\\,y,z", "x,y\\,z", "x\\\\,y");
        assertThat(vacancy.history().erase("frame", "x\\,y,z", ODILE)).isEqualTo(1);
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, "frame", "x,y\\,z", ODILE)));

        assertThat(database.rows("select a, b from frame")).containsExactly("x|y,z");
        assertThatThrownBy(() -> vacancy.history().erase("frame", "x,y\\,z", ODILE))
                .hasMessageContaining("is still there");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** A blank at the end is no other key to some collations, and to the trail it is. */
    @OnEveryEngine
    void keysThatACollationTakesForTheSameAreTwoRecords(Engine engine) {
        Database database =
                engine.database().run("create table keeper (name varchar(40) primary key, phone varchar(9))");
        Vacancy vacancy = vacancy(database, BOOK);
        for (String name : List.of("Ada", "Ada ")) {
            database.run("insert into keeper values ('" + name + "', '12')");
            vacancy.delete(Selection.of("keeper").key(name), ODILE);
        }

        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("keeper", "Ada")))
                .hasSize(1);
        assertThat(vacancy.history().erase("keeper", "Ada", ODILE)).isEqualTo(1);

        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("keeper", "Ada ")))
                .singleElement()
                .satisfies(entry -> assertThat(entry.before()).isPresent());
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void keysInADatabaseThatIgnoresCaseAreTwoRecords() throws SQLException {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:mem:ignoring;DB_CLOSE_DELAY=-1;IGNORECASE=TRUE");
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("create table keeper (name varchar(40) primary key, phone varchar(9))");
            Ddl.of(source, BOOK).apply();
            Vacancy vacancy = Vacancy.over(source, BOOK);
            for (String name : List.of("Ada", "ADA")) {
                statement.execute("insert into keeper values ('" + name + "', '12')");
                vacancy.delete(Selection.of("keeper").key(name), ODILE);
            }

            assertThat(vacancy.history().erase("keeper", "Ada", ODILE)).isEqualTo(1);
            assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("keeper", "ADA")))
                    .singleElement()
                    .satisfies(entry -> assertThat(entry.before()).isPresent());
        }
    }

    @OnEveryEngine
    void aKeyOfFixedLengthIsFoundOnceItsRecordIsGone(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (code char(5) primary key, name varchar(9))",
                        "insert into hive values ('ab', 'x')");
        Vacancy vacancy = vacancy(database, BOOK);
        Selection hive = Selection.of("hive").key("ab");
        vacancy.delete(hive, ODILE);

        String key = vacancy.history().keyText("hive", hive.keys().get(0));

        assertThat(key).isEqualTo("ab");
        assertThat(vacancy.history().erase("hive", key, ODILE)).isEqualTo(1);
    }

    /** To erase needs the key as the trail spells it, and a person gives it otherwise. */
    @OnEveryEngine
    void keysOfSeveralColumnsAndOfTimeAreErasedWithTheirRecord(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table reading (hive_no integer not null, taken_at timestamp not null, weight integer,"
                        + " primary key (hive_no, taken_at))",
                "insert into reading values (1, '2026-05-01 08:00:00', 40), (1, '2026-05-01 09:00:00', 41)");
        Vacancy vacancy = vacancy(database, BOOK);
        Selection one = Selection.of("reading")
                .key(1, LocalDateTime.parse("2026-05-01T08:00"))
                .hard();

        ErasureOutcome erasure = vacancy.erase(Approval.ofErasing(vacancy.plan(one, ODILE)));

        assertThat(erasure.entries()).isEqualTo(1);
        assertThat(database.rows("select count(*) from vacancy_trail_entry where erased_by is not null"))
                .containsExactly("1");
        assertThat(database.rows("select weight from reading")).containsExactly("41");
    }

    private static Database hives(Engine engine) {
        String bytes = engine == Engine.POSTGRESQL ? "bytea" : engine == Engine.SQLITE ? "blob" : "varbinary(16)";
        Database database = engine.database()
                .run(
                        "create table hive (hive_id " + bytes + " primary key, hive_no integer)",
                        "create table inspection (inspection_id " + bytes
                                + " primary key, inspection_no integer, hive_id "
                                + bytes + " not null,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)");
        for (int i = 1; i <= 3; i++) {
            database.run(
                    "insert into hive values (" + literal(engine, "0a0" + i) + ", " + i + ")",
                    "insert into inspection values (" + literal(engine, "0b0" + i) + ", " + i + ", "
                            + literal(engine, "0a0" + i) + ")");
        }
        return database;
    }

    private static String literal(Engine engine, String digits) {
        return engine == Engine.POSTGRESQL ? "'\\x" + digits + "'" : "x'" + digits + "'";
    }

    private static Vacancy vacancy(Database database, RuleBook book) {
        Ddl.of(database.source(), book).apply();
        return Vacancy.over(database.source(), book);
    }

    private static UUID delete(Vacancy vacancy, Selection selection) {
        return vacancy.run(Approval.of(vacancy.plan(selection, ODILE))).runId();
    }
}
