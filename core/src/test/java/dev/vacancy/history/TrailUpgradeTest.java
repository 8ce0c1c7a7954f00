package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** What the version before has written is taken over, whole and verified. */
class TrailUpgradeTest {
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final By ODILE = By.user("odile");
    private static final String NOTHING = "0".repeat(64);

    @OnEveryEngine
    void aTrailOfTheVersionBeforeGoesOn(Engine engine) throws SQLException {
        OldTrail old = OldTrail.in(hives(engine), engine);
        UUID first = old.run("deletion", "hive 1", null);
        old.entry("deleted", "hive", "1", "{\"hive_id\":\"1\",\"name\":\"Fellside One\"}");
        old.entry("deleted", "hive", "2", "{\"hive_id\":\"2\",\"name\":\"Fellside Two\"}");
        old.end();
        UUID part = old.run("part restore", "hive 2", first);
        old.entry("restored", "hive", "2", "{\"hive_id\":\"2\",\"name\":\"Fellside Two\"}");
        String digest = old.end();
        UUID second = old.run("deletion", "hive 3", null);
        old.entry("deleted", "hive", "3", "{\"hive_id\":\"3\",\"name\":\"Bramble\"}");
        old.end();
        old.erasure(second, "3");
        Database database = old.database();
        database.run("insert into hive values (2, 'Fellside Two')");
        assertThatThrownBy(() -> Vacancy.over(database.source(), BOOK)).hasMessageContaining("ddl --apply");

        Ddl ddl = Ddl.of(database.source(), BOOK);
        assertThat(ddl.remarks()).singleElement().asString().contains("earlier version");
        ddl.apply();

        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        assertThat(Ddl.of(database.source(), BOOK).isNeeded()).isFalse();
        Verification verification = vacancy.history().verify(Optional.empty());
        assertThat(verification.faults()).isEmpty();
        assertThat(verification.erased()).isEqualTo(1);
        assertThat(vacancy.history()
                        .verify(Optional.of(new Verification.Head(2, digest)))
                        .faults())
                .singleElement()
                .asString()
                .contains("vacancy removed it")
                .contains("(upgrade, run");
        assertThat(vacancy.history()
                        .verify(Optional.of(new Verification.Head(2, NOTHING)))
                        .faults())
                .singleElement()
                .asString()
                .contains("isn't the one that stood there");
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .extracting(TrailRun::kind)
                .containsExactly("upgrade", "erasure", "deletion", "part restore", "deletion");
        assertThat(vacancy.history().undoing(part).keys()).hasSize(1);
        RestorePlan plan = vacancy.history().planRestore(first, ODILE);
        assertThat(plan.counts()).isEqualTo(Map.of("hive", 1L));
        vacancy.history().restore(Approval.of(plan));
        assertThat(database.rows("select hive_id, name from hive order by hive_id"))
                .containsExactly("1|Fellside One", "2|Fellside Two");
        vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE)));
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
        assertThat(database.rows("select count(*) from vacancy_trail_run").toString())
                .isEqualTo("[8]");
    }

    @OnEveryEngine
    void oneThatSomebodyHasChangedIsNotTakenOver(Engine engine) throws SQLException {
        OldTrail old = OldTrail.in(hives(engine), engine);
        UUID run = old.run("deletion", "hive 1", null);
        old.entry("deleted", "hive", "1", "{\"hive_id\":\"1\",\"name\":\"Fellside One\"}");
        old.end();
        Database database = old.database();
        database.run("update vacancy_trail_entry set content = replace(content, 'One', 'Two')");

        assertThatThrownBy(() -> Ddl.of(database.source(), BOOK).apply())
                .hasMessageContaining("run " + run + " of the audit trail was changed");

        String left =
                engine == Engine.H2 || engine == Engine.MARIADB ? "vacancy_trail_run_version2" : "vacancy_trail_run";
        assertThat(database.rows("select kind from " + left + " order by place"))
                .containsExactly("trail 2", "deletion");
    }

    /** The database, or the process, may go down between any two statements. */
    @OnEveryEngine
    void whatWasBegunIsFinished(Engine engine) throws SQLException {
        OldTrail old = OldTrail.in(hives(engine), engine);
        old.run("deletion", "hive 1", null);
        old.entry("deleted", "hive", "1", "{\"hive_id\":\"1\",\"name\":\"Fellside One\"}");
        old.end();
        Database database = old.database();
        List<String> statements = Ddl.of(database.source(), BOOK).statements();
        database.run(statements.toArray(String[]::new));
        assertThatThrownBy(() -> Vacancy.over(database.source(), BOOK)).hasMessageContaining("are missing");
        assertThat(Ddl.of(database.source(), BOOK).isNeeded()).isTrue();

        Ddl.of(database.source(), BOOK).apply();

        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("hive", "1")))
                .hasSize(1);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** What somebody else calls so isn't ours to remove, and what was left over is told. */
    @OnEveryEngine
    void aTableOfSomebodyElsesStays(Engine engine) throws SQLException {
        OldTrail old = OldTrail.in(hives(engine), engine);
        old.run("deletion", "hive 1", null);
        old.entry("deleted", "hive", "1", "{\"hive_id\":\"1\",\"name\":\"Fellside One\"}");
        old.end();
        Database database = old.database();
        database.run(
                "create table vacancy_trail_run_version2 (n integer)",
                "insert into vacancy_trail_run_version2 values (7)");

        assertThatThrownBy(() -> Ddl.of(database.source(), BOOK))
                .hasMessageContaining("There is a table vacancy_trail_run_version2 already");
        assertThat(database.rows("select kind from vacancy_trail_run order by place"))
                .containsExactly("trail 2", "deletion");

        database.run("alter table vacancy_trail_run_version2 rename to mine");
        Ddl.of(database.source(), BOOK).apply();
        database.run("alter table mine rename to vacancy_trail_run_version2");
        Ddl again = Ddl.of(database.source(), BOOK);
        assertThat(again.isNeeded()).isFalse();
        assertThat(again.remarks()).singleElement().asString().contains("vacancy_trail_run_version2 was taken over");
        again.apply();
        assertThat(database.rows("select n from vacancy_trail_run_version2")).containsExactly("7");
    }

    private static Database hives(Engine engine) {
        return engine.database().run("create table hive (hive_id integer primary key, name varchar(20))");
    }

    /** Writes as the version before did. */
    private static final class OldTrail {
        private final Database database;
        private final Engine engine;
        private final List<String> digests = new ArrayList<>();
        private String previous = NOTHING;
        private int place;
        private UUID id;
        private String[] facts;

        private OldTrail(Database database, Engine engine) {
            this.database = database;
            this.engine = engine;
        }

        static OldTrail in(Database database, Engine engine) {
            String longText = "varchar(4000)";
            database.run(
                    "create table vacancy_trail_run (place bigint not null primary key, run_id varchar(36) not null unique,"
                            + " kind varchar(12) not null, actor varchar(200) not null, reason varchar(1000),"
                            + " happened_at varchar(30) not null, table_name varchar(200) not null, selection "
                            + longText
                            + " not null, rules varchar(64) not null, counts " + longText + " not null,"
                            + " part_of varchar(36), about varchar(36), entries bigint not null,"
                            + " entries_digest varchar(64) not null, previous_digest varchar(64) not null,"
                            + " digest varchar(64) not null, selection_salt varchar(36),"
                            + " selection_digest varchar(64) not null, erased_by varchar(36))",
                    "create table vacancy_trail_entry (run_id varchar(36) not null, step integer not null,"
                            + " place bigint not null, action varchar(12) not null, table_name varchar(200) not null,"
                            + " record_key varchar(500) not null, content " + longText + ", altered " + longText
                            + ", salt varchar(36), erased_by varchar(36), content_digest varchar(64) not null,"
                            + " digest varchar(64) not null, primary key (run_id, step, place))",
                    "create index vacancy_trail_entry_record on vacancy_trail_entry (table_name, record_key)",
                    "create index vacancy_trail_run_part on vacancy_trail_run (part_of)",
                    "create index vacancy_trail_run_about on vacancy_trail_run (about)",
                    "insert into vacancy_trail_run (place, run_id, kind, actor, happened_at, table_name, selection, rules,"
                            + " counts, entries, entries_digest, previous_digest, digest, selection_digest)"
                            + " values (0, 'beginning', 'trail 2', 'vacancy', '1970-01-01T00:00:00.000000Z', '', '', '',"
                            + " '{}', 0, '" + NOTHING + "', '" + NOTHING + "', '" + NOTHING + "', '" + NOTHING + "')");
            return new OldTrail(database, engine);
        }

        Database database() {
            return database;
        }

        UUID run(String kind, String selection, UUID about) {
            id = UUID.randomUUID();
            digests.clear();
            facts = new String[] {
                id.toString(),
                kind,
                "odile",
                "colony lost",
                "2026-05-01T08:00:00.000000Z",
                "hive",
                selection,
                "rules",
                "{\"hive\":1}",
                null,
                about == null ? null : about.toString()
            };
            return id;
        }

        void entry(String action, String table, String key, String text) throws SQLException {
            // SQLite has a number as such.
            String content = engine == Engine.SQLITE ? text.replace("\"" + key + "\"", key) : text;
            int number = digests.size() + 1;
            String salt = UUID.randomUUID().toString();
            String contentDigest = sha256(salt + "\n" + content);
            String digest = sha256(String.join(
                    "\n", id.toString(), "1", String.valueOf(number), action, table, key, "", contentDigest));
            insert(
                    "vacancy_trail_entry",
                    id.toString(),
                    1,
                    number,
                    action,
                    table,
                    key,
                    content,
                    null,
                    salt,
                    null,
                    contentDigest,
                    digest);
            digests.add(digest);
        }

        String end() throws SQLException {
            String salt = UUID.randomUUID().toString();
            String selectionDigest = sha256(salt + "\n" + facts[6]);
            String entriesDigest = sha256(String.join(
                    "", digests.stream().map(digest -> digest + "\n").toList()));
            String text = String.join(
                    "\n",
                    facts[0],
                    facts[1],
                    facts[2],
                    facts[3],
                    facts[4],
                    facts[5],
                    selectionDigest,
                    facts[7],
                    facts[8],
                    "",
                    facts[10] == null ? "" : facts[10]);
            place++;
            String digest = sha256(String.join(
                    "\n", String.valueOf(place), previous, text, String.valueOf(digests.size()), entriesDigest));
            insert(
                    "vacancy_trail_run",
                    place,
                    facts[0],
                    facts[1],
                    facts[2],
                    facts[3],
                    facts[4],
                    facts[5],
                    facts[6],
                    facts[7],
                    facts[8],
                    facts[9],
                    facts[10],
                    digests.size(),
                    entriesDigest,
                    previous,
                    digest,
                    salt,
                    selectionDigest,
                    null);
            previous = digest;
            return digest;
        }

        void erasure(UUID of, String key) throws SQLException {
            UUID erasure = run("erasure", "hive " + key, null);
            end();
            database.run(
                    "update vacancy_trail_entry set content = null, salt = null, erased_by = '" + erasure
                            + "' where record_key = '" + key + "'",
                    "update vacancy_trail_run set selection = '(erased)', selection_salt = null, erased_by = '"
                            + erasure + "' where run_id = '" + of + "'");
        }

        private void insert(String table, Object... values) throws SQLException {
            String marks = String.join(", ", Collections.nCopies(values.length, "?"));
            try (Connection connection = database.connect();
                    PreparedStatement insert =
                            connection.prepareStatement("insert into " + table + " values (" + marks + ")")) {
                for (int i = 0; i < values.length; i++) {
                    insert.setObject(i + 1, values[i]);
                }
                insert.executeUpdate();
            }
        }

        private static String sha256(String text) {
            try {
                return HexFormat.of()
                        .formatHex(MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8)));
            } catch (NoSuchAlgorithmException missing) {
                throw new IllegalStateException(missing);
            }
        }
    }
}
