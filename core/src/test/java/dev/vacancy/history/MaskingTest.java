package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;

/** What an erasure can't know to be of a person is found by its text, and masked where it stands. */
class MaskingTest {
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final By ODILE = By.user("odile");
    private static final By UNA = By.user("una").because("request 12");
    private static final List<String> OURS = List.of("vacancy_trail_run", "vacancy_trail_entry");
    private static final List<String> ALL_OURS =
            List.of("vacancy_trail_run", "vacancy_trail_entry", "vacancy_bulk_run", "vacancy_bulk_record");

    private static Database hives(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, note varchar(60), code varchar(8) unique)",
                        "create table visitor (name varchar(40) primary key, hive_id integer)",
                        "insert into hive values (1, 'Left to Bram Ostler, see BRAM OSTLER', 'a'),"
                                + " (2, 'Quiet', 'b'), (3, 'Quiet', 'c')",
                        "insert into visitor values ('Bram Ostler', 2), ('Ada', 3)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    private static Vacancy vacancy(Database database) {
        return Vacancy.over(database.source(), BOOK);
    }

    private static void assertNowhere(Database database, String text, List<String> tables) {
        for (String row : database.contents(tables.toArray(String[]::new))) {
            assertThat(row.toLowerCase(Locale.ROOT)).doesNotContain(text.toLowerCase(Locale.ROOT));
        }
    }

    @OnEveryEngine
    void aTextIsMaskedWhereverItStands(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        UUID first = vacancy.delete(Selection.of("hive").key(1), ODILE.because("Bram Ostler moved away"))
                .runId();
        vacancy.delete(Selection.of("hive").key(2), By.user("bram ostler"));
        vacancy.delete(Selection.of("visitor").key("Bram Ostler"), ODILE);
        vacancy.delete(Selection.of("visitor").where(Criteria.parse("name = 'Ada'")), ODILE);

        MaskingPlan plan = vacancy.history().planMasking(" bram ostler ", UNA);

        assertThat(plan.mentions())
                .extracting(mention -> mention.table() + " " + mention.key().orElse("-") + " " + mention.places() + " "
                        + mention.whole())
                .containsExactly(
                        "hive - [reason] false",
                        "hive - [actor] false",
                        "visitor - [selection] false",
                        "hive 1 [note] false",
                        "visitor Bram Ostler [key, name] true");
        assertThat(plan.counts()).containsOnly(entry("hive", 3L), entry("visitor", 2L));
        Question question = Question.about(plan);
        assertThat(question.text()).startsWith("Mask “bram ostler” in 5 places of the audit trail?");
        assertThat(vacancy.history().mask(question.answer("yes").orElseThrow())).isEqualTo(5);

        assertNowhere(database, "Bram Ostler", OURS);
        Verification verification = vacancy.history().verify(Optional.empty());
        assertThat(verification.faults()).isEmpty();
        assertThat(verification.erased()).isEqualTo(2);
        assertThat(vacancy.history().planMasking("Bram Ostler", UNA).total()).isZero();

        RestorePlan back = vacancy.history().planRestore(first, ODILE);
        assertThat(back.left()).containsExactly("hive 1 comes back with asterisks where a text was masked.");
        vacancy.history().restore(Approval.of(back));
        assertThat(database.rows("select note from hive where hive_id = 1"))
                .containsExactly("Left to ***********, see ***********");
    }

    @OnEveryEngine
    void whatWasMaskedIsMaskedAnewAndErased(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        vacancy.delete(Selection.of("hive").key(1), ODILE.because("Bram and Ostler moved away"));
        vacancy.history().mask("Bram Ostler", UNA);
        vacancy.history().mask("Left to", UNA);
        vacancy.history().mask("bram", UNA);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
        assertThat(vacancy.history().runs(HistoryQuery.all()).get(3).by().reason())
                .contains("**** and Ostler moved away");

        assertThat(vacancy.history().erase("hive", "1", UNA)).isEqualTo(1);

        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
        assertNowhere(database, "quiet", OURS);
        database.run("update vacancy_trail_run set reason = '**** and Odile moved away' where place = 1");
        assertThat(vacancy.history().verify(Optional.empty()).faults())
                .singleElement()
                .asString()
                .contains("was changed");
    }

    @OnEveryEngine
    void whatIsLeftOfAMaskedEntryCanNotBeChanged(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        vacancy.delete(Selection.of("hive").key(1), ODILE);
        vacancy.history().mask("Bram Ostler", UNA);

        database.run(
                "update vacancy_trail_entry set content = replace(content, '\"code\"', '\"cope\"') where action = 'deleted'");

        assertThat(vacancy.history().verify(Optional.empty()).faults())
                .singleElement()
                .asString()
                .contains("was changed");
    }

    @OnEveryEngine
    void aHoldIsInTheWay(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        vacancy.delete(Selection.of("hive").key(1), ODILE);
        UUID hold = vacancy.history()
                .standingHold("visitor", "name = 'Bram Ostler'", By.user("tam").because("case 7"));

        assertThatThrownBy(() -> vacancy.history().mask("Bram Ostler", UNA))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.BLOCKED))
                .hasMessageContaining(hold.toString());

        assertThat(database.rows("select count(*) from vacancy_trail_run")).containsExactly("3");
        vacancy.history().lift(hold, By.user("tam"));
        assertThat(vacancy.history().mask("Bram Ostler", UNA)).isEqualTo(3);
        assertNowhere(database, "Bram Ostler", OURS);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void bulkRunsAreLookedThroughAsWell(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        BulkRun run = begun(
                database,
                vacancy,
                Selection.of("visitor").where(Criteria.parse("name like 'Bram%'")),
                ODILE.because("Bram Ostler asked"));
        assertThatThrownBy(() -> vacancy.history().mask("Bram Ostler", UNA))
                .hasMessageContaining("The bulk run " + run.runId() + " has this text and hasn't ended");
        work(vacancy, run);

        vacancy.history().mask("Bram Ostler", UNA);

        assertNowhere(database, "Bram Ostler", ALL_OURS);
        assertThat(vacancy.bulk().run(run.runId()).by().reason()).contains("*********** asked");
        assertThat(vacancy.bulk().run(run.runId()).done()).isEqualTo(1);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void anErasureTakesTheWordsOfItsBulkRun(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        BulkRun run = begun(database, vacancy, Selection.of("visitor").where(Criteria.parse("name like '%a%'")), ODILE);
        work(vacancy, run);

        vacancy.history().erase("visitor", "Bram Ostler", UNA);

        assertNowhere(database, "Bram", ALL_OURS);
        assertThat(vacancy.bulk().run(run.runId()).selection()).isEqualTo("(erased)");
        assertThat(database.rows("select record_key from vacancy_bulk_record"))
                .as("somebody else's stays")
                .containsExactly("[\"Ada\"]");
    }

    private static BulkRun begun(Database database, Vacancy vacancy, Selection selection, By by) {
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        return vacancy.bulk().start(Approval.inChunks(vacancy.plan(selection, by)), BulkOptions.defaults());
    }

    private static void work(Vacancy vacancy, BulkRun run) {
        vacancy.bulk().work(run.runId(), BulkOptions.defaults(), Exemption.none(), progress -> {});
    }

    /** Criteria, keys of several columns and JSON each spell some characters in a way of their own. */
    @OnEveryEngine
    void aTextIsFoundHoweverItIsSpelled(Engine engine) {
        List<String> odd =
                List.of("O'Vexley", "Annick, Bovey", "tarn\thollow", "\"Beesley\"", "brack\\slade", "a'b,c\\d");
        Database database = engine.database()
                .run("create table guest (name varchar(40) not null, seat integer not null, primary key (name, seat))");
        Ddl.of(database.source(), BOOK).apply();
        Vacancy vacancy = vacancy(database);
        for (String name : odd) {
            Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
            for (int seat = 1; seat <= 2; seat++) {
                insert(database, name, seat);
            }
            vacancy.delete(Selection.of("guest").key(name, 1), ODILE.because("as " + name + " wished"));
            work(
                    vacancy,
                    begun(
                            database,
                            vacancy,
                            Selection.of("guest").where(Criteria.column("name").equalTo(name)),
                            ODILE));

            vacancy.history().mask(name, UNA);

            for (String part : name.split("[^A-Za-z]+", -1)) {
                if (part.length() > 2) {
                    assertNowhere(database, part, ALL_OURS);
                }
            }
            assertThat(database.rows("select count(*) from vacancy_trail_entry where record_key is not null"))
                    .containsExactly("0");
            assertThat(
                            database.rows(
                                    "select count(*) from vacancy_trail_run where kind = 'deletion' and selection <> '(erased)'"))
                    .containsExactly("0");
        }
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    private static void insert(Database database, String name, int seat) {
        try (Connection connection = database.connect();
                PreparedStatement insert = connection.prepareStatement("insert into guest values (?, ?)")) {
            insert.setString(1, name);
            insert.setInt(2, seat);
            insert.executeUpdate();
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    /** What the trail says to itself is no text of anybody's. */
    @OnEveryEngine
    void whatTheTrailSaysToItselfIsNotMasked(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        vacancy.delete(Selection.of("hive").key(2), ODILE);
        vacancy.history()
                .prune(vacancy.history().runs(HistoryQuery.all()).get(0).at().plusNanos(1_000), ODILE);
        String aged = database.rows("select selection from vacancy_trail_run where kind = 'ageing'")
                .get(0);
        vacancy.delete(Selection.of("hive").key(1), ODILE);
        vacancy.history().erase("hive", "1", UNA);

        assertThat(vacancy.history().planMasking("erased", UNA).mentions()).isEmpty();
        assertThat(vacancy.history()
                        .planMasking(aged.substring(aged.length() - 10), UNA)
                        .mentions())
                .isEmpty();
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void whatMakesNoSenseIsRefused(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = vacancy(database);
        vacancy.delete(Selection.of("hive").key(1), ODILE);
        Approval approval = Approval.of(vacancy.history().planMasking("Bram Ostler", UNA));

        assertThatThrownBy(() -> vacancy.history().planMasking(" Bo ", UNA)).hasMessageContaining("too short");
        assertThatThrownBy(() -> vacancy.history().planMasking("Bram", UNA.because("Bram asked")))
                .hasMessageContaining("the very text that is to be masked");
        vacancy.delete(Selection.of("visitor").key("Bram Ostler"), ODILE);
        assertThatThrownBy(() -> vacancy.history().mask(approval)).isInstanceOf(StalePlanException.class);
    }
}
