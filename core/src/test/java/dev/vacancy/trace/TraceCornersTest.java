package dev.vacancy.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.JsonForm;
import dev.vacancy.LockedException;
import dev.vacancy.Permissions;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.TraceRule;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** Whose record has a key of words, who is told of what was masked, who may look, and what else can't be overlooked. */
class TraceCornersTest {
    private static final RuleBook GOES = Moorland.book(Moorland.GOES);

    private static TraceOutcome erase(Vacancy vacancy, String table, Object... key) {
        return vacancy.eraseTrace(Approval.of(vacancy.plan(vacancy.trace(table, key), Moorland.ODILE)));
    }

    @OnEveryEngine
    void whoFollowsIsToldOfWhatIsMasked(Engine engine) {
        RuleBook book = GOES.followUp("inspection", FollowUp.named("search").columns("note"));
        Vacancy vacancy = Moorland.vacancy(Moorland.on(engine, book), book);

        erase(vacancy, "keeper", 1);

        assertThat(vacancy.followUps().list(100).stream()
                        .filter(message -> message.action() == FollowUpAction.CHANGED)
                        .map(message -> message.key().orElseThrow() + " " + message.before() + " "
                                + message.after().orElseThrow()))
                .containsExactlyInAnyOrder(
                        "101 Optional.empty {note=calm; asked ************ to come again}",
                        "102 Optional.empty {note=wrote to ********************* about it}");
        List<TrailEntry> entries = vacancy.history().entries(HistoryQuery.all().ofRecord("inspection", "102"));
        assertThat(entries).hasSize(1);
        assertThat(entries.get(0).action()).isEqualTo("rewritten");
        assertThat(entries.get(0).before()).isEmpty();
        assertThat(entries.get(0).by()).isEqualTo(Moorland.ODILE);
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @OnEveryEngine
    void whatBelongsToARecordThatStaysIsGoneAllTheSame(Engine engine) {
        RuleBook book = Moorland.book(Moorland.STAYS)
                .followUp("keeper", FollowUp.named("portrait").columns("email"));
        Vacancy vacancy = Moorland.vacancy(Moorland.on(engine, book), book);

        erase(vacancy, "keeper", 1);

        assertThat(vacancy.followUps().list(100).stream()
                        .filter(message -> message.table().equals("keeper"))
                        .map(FollowUpMessage::action))
                .containsExactlyInAnyOrder(FollowUpAction.MARKED, FollowUpAction.PURGED);
    }

    @OnEveryEngine
    void whatTheTrailTellsIsWhoseItWasLast(Engine engine) {
        Database database = Moorland.on(engine, GOES);
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        database.run(
                "insert into inspection values (104, 11, null, 'of eleven'), (105, 10, null, 'of ten')",
                "insert into hive values (12, 1, 'Fellside Three')",
                "insert into inspection values (106, 12, null, 'of twelve')");
        vacancy.delete(Selection.of("inspection").keys(List.of(104, 105, 106)), Moorland.ODILE);
        for (int hive : List.of(11, 12)) {
            UUID run = vacancy.delete(Selection.of("hive").key(hive), Moorland.ODILE)
                    .runId();
            vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, Moorland.ODILE)));
        }
        // One is another keeper's by now, and another one was when it went.
        database.run("update hive set keeper_id = 2 where hive_id in (11, 12)");
        vacancy.delete(Selection.of("hive").key(12), Moorland.ODILE);

        Trace trace = vacancy.trace("keeper", 1);

        assertThat(trace.parts().stream()
                        .filter(part -> part.relation() == Relation.TRAIL)
                        .map(TracePart::toString))
                .containsExactly("inspection: 1, audit trail, erased");
        long planned = 1;
        // The keeper, hive 10 with its inspection, the payment; detached: an inspection of a hive of another's, the
        // photo.
        long ofThisRun = 6;
        assertThat(erase(vacancy, "keeper", 1).entries()).isEqualTo(planned + ofThisRun);
        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("inspection", "104")))
                .allSatisfy(entry -> assertThat(entry.before()).isPresent());
        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("inspection", "106")))
                .allSatisfy(entry -> assertThat(entry.before()).isPresent());
        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("inspection", "105")))
                .allSatisfy(entry -> assertThat(entry.before()).isEmpty());
    }

    @OnEveryEngine
    void aNameCanBeTheKey(Engine engine) {
        RuleBook book = RuleBook.bySchema()
                .trail(Trail.defaults())
                .trace("person", TraceRule.knownBy("name").masking("diary.words"));
        Database database = engine.database()
                .run(
                        "create table person (name varchar(40) not null primary key)",
                        "create table letter (name varchar(40) not null, no integer not null, words varchar(80),"
                                + " primary key (name, no),"
                                + " foreign key (name) references person (name) on delete cascade)",
                        "create table diary (no integer not null primary key, words varchar(80))",
                        "insert into person values ('O''Rell, Ann'), ('Tam Birk')",
                        "insert into letter values ('O''Rell, Ann', 1, 'a'), ('O''Rell, Ann', 2, 'b'), ('Tam Birk', 1, 'c')",
                        "insert into diary values (1, 'saw o''rell, ann'), (2, 'rain')");
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);
        vacancy.delete(Selection.of("letter").keys(List.of(List.of("O'Rell, Ann", 2))), Moorland.ODILE);
        assertThat(vacancy.trace("person", "O'Rell, Ann").parts().stream().map(TracePart::toString))
                .containsExactlyInAnyOrder(
                        "person: 1, record, deleted",
                        "letter.name: 1, belongs to it, deleted",
                        "diary.words: 1, text, masked",
                        "letter: 1, audit trail, erased",
                        "letter: 1, words of runs, masked");

        TraceOutcome outcome = erase(vacancy, "person", "O'Rell, Ann");

        assertThat(outcome.left().isEmpty()).isTrue();
        assertThat(Moorland.texts(database, "person", "letter", "diary", "vacancy_trail_run", "vacancy_trail_entry"))
                .doesNotContainIgnoringCase("rell")
                .contains("Tam Birk");
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @OnEveryEngine
    void whatRefersToItMayHaveAnotherType(Engine engine) {
        RuleBook book = RuleBook.bySchema()
                .trail(Trail.defaults())
                .link("badge.owner", "person")
                .on("badge.owner", Clause.keep("badges are numbered"));
        Database database = engine.database()
                .run(
                        "create table person (person_id integer not null primary key, name varchar(40))",
                        "create table badge (badge_no integer not null primary key, owner varchar(10))",
                        "insert into person values (1, 'a'), (2, 'b')",
                        "insert into badge values (10, '1'), (11, '2')");
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);

        TraceOutcome outcome = erase(vacancy, "person", 1);

        assertThat(outcome.left().parts().stream().map(TracePart::toString))
                .containsExactly("badge.owner: 1, mentions it, kept (badges are numbered)");
    }

    @Test
    void noColleagueBringsTheNameBack() {
        Vacancy vacancy = Moorland.vacancy(Moorland.on(Engine.H2, GOES), GOES);
        Approval approval = Approval.of(vacancy.plan(vacancy.trace("keeper", 1), Moorland.ODILE));

        assertThatThrownBy(() -> vacancy.eraseTrace(approval.agreedBy(By.user("Orla Fenwick"))))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("has the very text");
    }

    @OnEveryEngine
    void aKeyCanHaveSeveralColumns(Engine engine) {
        RuleBook book = RuleBook.bySchema().trail(Trail.defaults());
        Database database = engine.database()
                .run(
                        "create table member (club integer not null, no integer not null, name varchar(40),"
                                + " primary key (club, no))",
                        "create table loan (loan_no integer not null primary key, club integer, no integer,"
                                + " foreign key (club, no) references member (club, no) on delete cascade)",
                        "insert into member values (1, 1, 'a'), (1, 2, 'b')",
                        "insert into loan values (10, 1, 1), (11, 1, 2)");
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);

        assertThat(vacancy.trace("member", Map.of("no", 2, "club", 1)).key()).isEqualTo("1,2");
        assertThat(erase(vacancy, "member", 1, 2).deleted()).isEqualTo(Map.of("member", 1L, "loan", 1L));
        assertThat(database.rows("select loan_no from loan")).containsExactly("10");
        assertThat(vacancy.trace("member", 1, 2).isEmpty()).isTrue();
    }

    @OnEveryEngine
    void itIsPartOfTheApplicationsTransaction(Engine engine) throws SQLException {
        Database database = Moorland.on(engine, GOES);
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        String before = Moorland.everything(database);
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            if (engine == Engine.MARIADB || engine == Engine.POSTGRESQL) {
                connection.setTransactionIsolation(
                        engine == Engine.MARIADB
                                ? Connection.TRANSACTION_SERIALIZABLE
                                : Connection.TRANSACTION_READ_COMMITTED);
            }
            assertThat(erase(joined, "keeper", 1).deleted()).containsEntry("keeper", 1L);
            assertThat(joined.trace("keeper", 1).isThere()).isFalse();
            connection.rollback();
        }
        assertThat(Moorland.everything(database)).isEqualTo(before);
    }

    /** Whoever works on what mentions the person at that moment is neither waited for without end nor overlooked. */
    @OnEveryEngine
    void othersGoOnMeanwhile(Engine engine) throws Exception {
        Database database = Moorland.on(engine, GOES);
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        ExecutorService threads = Executors.newFixedThreadPool(2);
        try {
            Future<Integer> other = threads.submit(() -> {
                int done = 0;
                for (int i = 0; i < 5; i++) {
                    done += tried(() -> {
                        UUID run = vacancy.delete(Selection.of("inspection").key(102), By.user("tam"))
                                .runId();
                        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, By.user("tam"))));
                    });
                }
                return done;
            });
            Future<Integer> erasing = threads.submit(() -> {
                int tries = 0;
                while (vacancy.trace("keeper", 1).isThere()) {
                    tries++;
                    tried(() -> erase(vacancy, "keeper", 1));
                }
                return tries;
            });
            assertThat(erasing.get(60, TimeUnit.SECONDS)).isPositive();
            assertThat(other.get(60, TimeUnit.SECONDS)).isPositive();
        } finally {
            threads.shutdownNow();
        }
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
        assertThat(database.rows("select count(*) from keeper where keeper_id = 1"))
                .containsExactly("0");
    }

    /** Something else may be known by now, or somebody be in the way; all else is a failure. */
    private static int tried(Runnable work) {
        try {
            work.run();
            return 1;
        } catch (StalePlanException | LockedException again) {
            return 0;
        } catch (InvalidRequestException refused) {
            // What was erased meanwhile can't be brought back.
            assertThat(refused.code()).isIn(FailureCode.CONFLICT, FailureCode.RUN_STATE);
            return 0;
        }
    }

    @OnEveryEngine
    void anOpenBulkRunIsInTheWay(Engine engine) {
        Vacancy vacancy = Moorland.vacancy(Moorland.on(engine, GOES), GOES);
        Selection keepers =
                Selection.of("keeper").where(Criteria.parse("keeper_id < 3")).hard();
        vacancy.bulk().start(Approval.inChunks(vacancy.plan(keepers, Moorland.ODILE)), BulkOptions.defaults());
        Trace trace = vacancy.trace("keeper", 1);
        assertThat(trace.parts()).anyMatch(part -> part.relation() == Relation.BULK_RUN && part.count() == 1);

        TracePlan plan = vacancy.plan(trace, Moorland.ODILE);

        assertThat(plan.openBulkRuns()).hasSize(1);
        assertThatThrownBy(() -> Approval.of(plan))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("has something of keeper 1 and hasn't ended");
    }

    @OnEveryEngine
    void whoMayNotSeeAllOfItSeesNothing(Engine engine) {
        Vacancy vacancy = Moorland.vacancy(Moorland.on(engine, GOES), GOES);
        Vacancy noPayments = vacancy.actingFor(
                Moorland.ODILE, (by, act, table) -> !table.equals("payment") || act != Permissions.Action.SEE);
        Vacancy noPhones = vacancy.actingFor(
                Moorland.ODILE,
                ((Permissions) (by, act, table) -> true).withholding((by, table, column) -> column.equals("phone")));
        Vacancy noErasing =
                vacancy.actingFor(Moorland.ODILE, (by, act, table) -> act != Permissions.Action.DELETE_HARD);
        Trace trace = noErasing.trace("keeper", 1);

        for (Runnable attempt : List.<Runnable>of(
                () -> noPayments.trace("keeper", 1),
                () -> noPhones.trace("keeper", 1),
                () -> noPhones.export(trace, record -> {}),
                () -> noErasing.plan(trace, Moorland.ODILE),
                () -> noErasing.eraseTrace(Approval.of(vacancy.plan(trace, Moorland.ODILE))),
                () -> vacancy.actingFor(By.user("tam"), (by, act, table) -> true)
                        .plan(trace, Moorland.ODILE))) {
            assertThatThrownBy(attempt::run)
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.FORBIDDEN));
        }
    }

    @Test
    void anApprovalOfAnotherKindIsRefused() {
        Vacancy vacancy = Moorland.vacancy(Moorland.on(Engine.H2, GOES), GOES);
        Approval deletion = Approval.of(vacancy.plan(Selection.of("photo").key(500), Moorland.ODILE));
        Approval trace = Approval.of(vacancy.plan(vacancy.trace("keeper", 1), Moorland.ODILE));

        for (Runnable attempt : List.<Runnable>of(
                () -> vacancy.eraseTrace(deletion),
                () -> vacancy.run(trace),
                () -> vacancy.erase(trace),
                () -> vacancy.history().erase(trace),
                () -> vacancy.bulk().start(trace, BulkOptions.defaults()))) {
            assertThatThrownBy(attempt::run)
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.APPROVAL_OF_ANOTHER));
        }
    }

    @Test
    void rulesThatCantBeKeptAreTold() {
        Database database = Moorland.on(Engine.H2, GOES);
        Map<String, TraceRule> wrong = Map.of(
                "keeper.keeper_id is INTEGER, which isn't text",
                TraceRule.knownBy("keeper_id"),
                "nick",
                TraceRule.knownBy("nick"),
                "pound",
                TraceRule.knownBy("name").masking("payment.pound"),
                "can't be kept: the database enforces this link",
                TraceRule.knownBy().on("payment.keeper_id", Clause.keep("for the taxes")),
                "can't be detached",
                TraceRule.knownBy().on("hive.keeper_id", Clause.detach()),
                "nothing of the person is erased",
                TraceRule.knownBy("name").keepingRecord("for the taxes"),
                "can't be masked: it is part of the key",
                TraceRule.knownBy().keepingRecord("for the taxes", "keeper_id"));
        wrong.forEach((problem, rule) -> assertThatThrownBy(() ->
                        Vacancy.over(database.source(), RuleBook.bySchema().trace("keeper", rule)))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining(problem));
    }

    @Test
    void itIsGivenToPrograms() {
        Vacancy vacancy = Moorland.vacancy(Moorland.on(Engine.H2, GOES), GOES);

        Map<String, Object> form = JsonForm.of(vacancy.trace("keeper", 1));

        assertThat(form)
                .containsEntry("key", "1")
                .containsEntry("label", "Orla Fenwick")
                .containsEntry("there", true);
        assertThat(form.get("parts").toString())
                .contains("relation=belongs to it, table=hive, where=hive.keeper_id, under=keeper, count=2,"
                        + " treatment=deleted, reason=null, samples=[10 'Fellside One', 11 'Fellside Two']");
        TraceOutcome outcome = erase(vacancy, "keeper", 1);
        assertThat(JsonForm.of(outcome))
                .containsEntry("deleted", outcome.deleted())
                .containsEntry("masked", outcome.masked())
                .containsEntry("entries", outcome.entries());
    }

    /** Notes of any length are large objects on some databases. */
    @OnEveryEngine
    void largeTextsAreLookedThroughToo(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, name varchar(40) not null)",
                        "create table note (note_id int primary key, text " + (engine == Engine.H2 ? "clob" : "text")
                                + ")",
                        "insert into keeper values (1, 'Orla Fenwick')",
                        "insert into note values (7, 'met ORLA FENWICK'), (8, 'by Orla Fenwick and others'), (9, 'rain')");
        RuleBook rules = RuleBook.bySchema()
                .trail(Trail.defaults())
                .trace("keeper", TraceRule.knownBy("name").masking("note.text"));
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules);
        UUID run = vacancy.delete(Selection.of("note").key(8), Moorland.ODILE).runId();

        TracePlan plan = vacancy.plan(vacancy.trace("keeper", 1), Moorland.ODILE);
        vacancy.eraseTrace(Question.about(plan).answer("yes").orElseThrow());

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, Moorland.ODILE)));
        assertThat(database.rows("select note_id, cast(text as varchar(60)) from note order by note_id"))
                .containsExactly("7|met ************", "8|by ************ and others", "9|rain");
    }
}
