package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.ErasureOutcome;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

class TrailTest {
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final String[] TABLES = {"hive", "inspection", "photo"};
    private static final RuleBook BOOK =
            RuleBook.bySchema().trail(Trail.defaults().without("hive.pin"));

    private static Database larkmoor(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table hive (hive_id integer primary key, name varchar(20) unique, pin varchar(10))",
                "create table inspection (inspection_id integer primary key, hive_id integer not null, note varchar(20),"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "create table photo (photo_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete set null)",
                "insert into hive values (1, 'Fellside One', '1234'), (2, 'Fellside Two', null), (3, 'Bramble', '7777')",
                "insert into inspection values (10, 1, 'calm'), (11, 1, 'it''s \"wet\"'), (20, 2, null)",
                "insert into photo values (100, 1), (200, 2)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    private static Vacancy vacancy(Database database) {
        return Vacancy.over(database.source(), BOOK);
    }

    private static Outcome delete(Vacancy vacancy, Object... keys) {
        return vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").keys(List.of(keys)), ODILE)));
    }

    private static List<String> faults(Vacancy vacancy) {
        return vacancy.history().verify(Optional.empty()).faults();
    }

    @OnEveryEngine
    void eachEffectIsWrittenDownWithWhoWhyAndWhatItWas(Engine engine) {
        Vacancy vacancy = vacancy(larkmoor(engine));

        Outcome outcome = delete(vacancy, 1);

        List<TrailEntry> entries = vacancy.history().entries(HistoryQuery.all());
        assertThat(entries)
                .extracting(entry -> entry.action() + " " + entry.table() + " " + entry.key())
                .containsExactlyInAnyOrder(
                        "detached photo 100", "deleted inspection 10", "deleted inspection 11", "deleted hive 1");
        assertThat(entries).allSatisfy(entry -> {
            assertThat(entry.run()).isEqualTo(outcome.runId());
            assertThat(entry.by()).isEqualTo(ODILE);
        });
        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("inspection", "11")))
                .singleElement()
                .satisfies(entry -> assertThat(entry.before().orElseThrow())
                        .containsEntry("hive_id", entry.before().orElseThrow().get("hive_id"))
                        .containsEntry("note", "it's \"wet\""));
        assertThat(vacancy.history()
                        .entries(HistoryQuery.all().ofTable("photo"))
                        .get(0)
                        .after())
                .hasValueSatisfying(after -> assertThat(after).containsEntry("hive_id", null));
        assertThat(vacancy.history()
                        .entries(HistoryQuery.all().ofRecord("hive", "1"))
                        .get(0)
                        .before()
                        .orElseThrow())
                .containsKey("name")
                .doesNotContainKey("pin");
        assertThat(vacancy.history().runs(HistoryQuery.all())).singleElement().satisfies(run -> {
            assertThat(run.kind()).isEqualTo("deletion");
            assertThat(run.selection()).isEqualTo("hive 1");
            assertThat(run.counts()).isEqualTo(outcome.counts());
        });
        assertThat(vacancy.history().entries(HistoryQuery.all().by("una"))).isEmpty();
        assertThat(vacancy.history()
                        .entries(HistoryQuery.all()
                                .between(Instant.EPOCH, outcome.startedAt().minusSeconds(9))))
                .isEmpty();
    }

    @OnEveryEngine
    void whoeverChangesTheTrailIsFound(Engine engine) {
        Map<String, String> tampering = Map.of(
                "update vacancy_trail_entry set content = replace(content, 'calm', 'wild') where record_key = '10'",
                "Entry 2/",
                "update vacancy_trail_entry set record_key = '12' where record_key = '11'",
                "was changed",
                "delete from vacancy_trail_entry where record_key = '10'",
                "had 4 entries and has 3 now",
                "update vacancy_trail_run set actor = 'tam' where place = 1",
                "was changed",
                "delete from vacancy_trail_run where place = 1",
                "1 runs before place 2 are missing",
                "update vacancy_trail_entry set content = null, altered = null where record_key = '10'",
                "was changed",
                "insert into vacancy_trail_entry (run_no, step, place, action, table_name, record_key, seal, digest)"
                        + " select 7, 1, 1, 'deleted', 'hive', '9', seal, digest from vacancy_trail_entry where record_key = '10'",
                "slipped in");
        tampering.forEach((statement, fault) -> {
            Database database = larkmoor(engine);
            Vacancy vacancy = vacancy(database);
            delete(vacancy, 1);
            delete(vacancy, 2);
            assertThat(faults(vacancy)).as(statement).isEmpty();

            database.run(statement);

            assertThat(faults(vacancy))
                    .as(statement)
                    .anySatisfy(found -> assertThat(found).contains(fault));
        });
    }

    @OnEveryEngine
    void aKeptHeadShowsThatAWholeTrailWasWrittenAnew(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        delete(vacancy, 1);
        Verification.Head head = vacancy.history().verify(Optional.empty()).head();
        delete(vacancy, 2);
        assertThat(vacancy.history().verify(Optional.of(head)).isIntact()).isTrue();

        database.run("delete from vacancy_trail_entry", "delete from vacancy_trail_run where place > 0");
        delete(vacancy, 3);

        assertThat(faults(vacancy)).isEmpty();
        assertThat(vacancy.history().verify(Optional.of(head)).faults())
                .singleElement()
                .asString()
                .contains("The run at place 1 isn't the one");
    }

    @OnEveryEngine
    void aRecordIsDeletedAndErasedInOneTransactionOrNeither(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Selection one = Selection.of("hive").key(1).hard();
        Approval approval = Approval.ofErasing(vacancy.plan(one, ODILE));
        UUID hold = vacancy.history().standingHold("hive", "hive_id = 2", ODILE);
        assertThatThrownBy(() -> vacancy.erase(approval)).hasMessageContaining("can't be told from the trail");
        assertThat(database.count("hive")).isEqualTo(3);
        vacancy.history().lift(hold, ODILE);

        ErasureOutcome erasure = vacancy.erase(approval);

        assertThat(erasure.outcome().counts()).containsEntry("hive", 1L);
        assertThat(erasure.entries()).as("with two inspections and a photo").isEqualTo(4);
        assertThat(database.rows("select count(*) from vacancy_trail_entry where content like '%Fellside%'"))
                .containsExactly("0");
        assertThat(database.rows("select hive_id from hive order by hive_id")).containsExactly("2", "3");
        assertThat(faults(vacancy)).isEmpty();
        Approval two = Approval.ofErasing(vacancy.plan(Selection.of("hive").keys(List.of(2, 3)), ODILE));
        assertThatThrownBy(() -> vacancy.erase(two)).hasMessageContaining("is of 2 records");
    }

    @OnEveryEngine
    void anErasedPersonIsForgottenAndTheChainHolds(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        assertThatThrownBy(() -> vacancy.history().erase("hive", "1", ODILE)).hasMessageContaining("is still there");
        Selection byName = Selection.of("hive").where(Criteria.parse("name = 'Fellside One'"));
        Outcome outcome = vacancy.run(Approval.of(vacancy.plan(byName, ODILE)));
        Outcome other = delete(vacancy, 3);

        long erased = vacancy.history().erase("hive", "1", By.user("una").because("asked for it"));

        assertThat(erased).as("with two inspections and a photo").isEqualTo(4);
        assertThat(database.rows("select count(*) from vacancy_trail_entry where content like '%calm%'"))
                .containsExactly("0");
        assertThat(database.rows("select count(*) from vacancy_trail_entry where content like '%Fellside%'"))
                .containsExactly("0");
        assertThat(vacancy.history()
                        .entries(HistoryQuery.all().ofRecord("hive", "1"))
                        .get(0)
                        .before())
                .isEmpty();
        assertThat(vacancy.history().runs(HistoryQuery.all().ofRun(outcome.runId())))
                .extracting(TrailRun::selection)
                .containsExactly("(erased)");
        assertThat(vacancy.history().runs(HistoryQuery.all().ofRun(other.runId())))
                .extracting(TrailRun::selection)
                .containsExactly("hive 3");
        Verification verification = vacancy.history().verify(Optional.empty());
        assertThat(verification.faults()).isEmpty();
        assertThat(verification.erased()).isEqualTo(4);
        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), ODILE);
        assertThat(plan.left()).contains("The content of hive 1 was erased, so it stays away.");
        database.run(
                "update vacancy_trail_run set selection = 'all', selection_salt = null, erased_by = 7 where place = 2");
        assertThat(faults(vacancy))
                .anyMatch(fault -> fault.contains("was changed"))
                .anyMatch(fault -> fault.startsWith("The words of the selections of runs"));
    }

    @OnEveryEngine
    void theOldestRunsGoVerifiably(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        delete(vacancy, 1);
        Instant between = vacancy.history().runs(HistoryQuery.all()).get(0).at().plusNanos(1_000);
        delete(vacancy, 2);

        long gone = vacancy.history().prune(between, By.program("night shift"));

        assertThat(gone).isEqualTo(1);
        assertThat(faults(vacancy)).isEmpty();
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .extracting(TrailRun::kind)
                .containsExactly("ageing", "deletion");
        database.run("delete from vacancy_trail_run where place = 2", "delete from vacancy_trail_entry");
        assertThat(faults(vacancy)).isNotEmpty();
    }

    @OnEveryEngine
    void whatIsHeldStaysUntilTheHoldIsLifted(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        assertThatThrownBy(() -> vacancy.history().hold("inspection", "note = 'calm'", By.user("tam")))
                .hasMessageContaining("needs a reason");
        UUID hold = vacancy.history()
                .hold("inspection", "note = 'calm'", By.user("tam").because("court case 7"));

        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);

        assertThat(plan.holds()).singleElement().satisfies(held -> {
            assertThat(held.table()).isEqualTo("inspection");
            assertThat(held.count()).isEqualTo(1);
            assertThat(held.reason()).isEqualTo("court case 7");
        });
        assertThatThrownBy(() -> Approval.of(plan))
                .isInstanceOf(BlockedException.class)
                .hasMessageContaining("1 record of inspection is held by tam: court case 7");
        assertThat(Approval.of(vacancy.plan(Selection.of("hive").key(2), ODILE)))
                .isNotNull();

        vacancy.history().lift(hold, By.user("tam").because("settled"));

        assertThat(delete(vacancy, 1).total()).isEqualTo(3);
        assertThat(vacancy.history().holds()).isEmpty();
        assertThat(faults(vacancy)).isEmpty();
    }

    /** Whoever agreed before somebody held a record hasn't agreed against that. */
    @OnEveryEngine
    void aHoldBetweenPlanAndRunCounts(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));
        vacancy.history().hold("hive", "name like 'Fell%'", By.user("tam").because("court case 7"));
        List<String> before = database.contents(TABLES);

        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(BlockedException.class);

        assertThat(database.contents(TABLES)).isEqualTo(before);
    }

    @OnEveryEngine
    void allThatStandsInTheWayIsToldBeforeAnythingChanges(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Outcome outcome = delete(vacancy, 1);
        database.run(
                "insert into hive values (9, 'Fellside One', null)",
                "insert into inspection values (10, 3, 'another')",
                "update photo set hive_id = 3 where photo_id = 100");
        List<String> before = database.contents(TABLES);

        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), ODILE);

        assertThat(plan.conflicts())
                .extracting(conflict -> conflict.table() + " " + conflict.key() + ": " + conflict.reason())
                .containsExactlyInAnyOrder(
                        "hive 1: its name is taken by hive 9", "inspection 10: there is a record with this key again");
        assertThat(plan.left())
                .containsExactly(
                        "What hive had in pin stays away: the trail was told to leave it out.",
                        "photo 100 stays as it is: it was changed since.");
        assertThatThrownBy(() -> Approval.of(plan))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refused -> assertThat(refused.code()).isEqualTo(FailureCode.CONFLICT));
        assertThat(database.contents(TABLES)).isEqualTo(before);
    }

    @OnEveryEngine
    void aParentThatIsGoneOrASchemaThatChangedIsTold(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Outcome inspection =
                vacancy.run(Approval.of(vacancy.plan(Selection.of("inspection").key(10), ODILE)));
        Outcome hive = delete(vacancy, 1);

        assertThat(vacancy.history().planRestore(inspection.runId(), ODILE).conflicts())
                .extracting(Conflict::reason)
                .containsExactly("its hive 1 (inspection.hive_id) isn't there");

        database.run("alter table hive add column wood varchar(10)", "alter table inspection drop column note");
        Vacancy now = vacancy(database);
        assertThat(now.history().planRestore(hive.runId(), ODILE).conflicts())
                .extracting(Conflict::reason)
                .containsExactly("the column note isn't there any more, and had a value");
    }

    @OnEveryEngine
    void whatChangedBetweenPlanAndRestoreIsNoticed(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Outcome outcome = delete(vacancy, 1);
        Approval approval = Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE));
        database.run("insert into hive values (1, 'New', null)");

        assertThatThrownBy(() -> vacancy.history().restore(approval)).isInstanceOf(StalePlanException.class);

        assertThat(database.count("inspection")).isEqualTo(1);
    }

    @OnEveryEngine
    void aBulkRunComesBackAsAWhole(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        List<String> before = database.contents("inspection", "photo");
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        Plan plan = vacancy.plan(Selection.of("hive").keys(List.of(1, 2, 3)), ODILE);
        BulkOptions options = BulkOptions.defaults().chunk(1);
        BulkRun run = vacancy.bulk().start(Approval.inChunks(plan), options);
        vacancy.bulk().work(run.runId(), options, Exemption.none(), soFar -> {});
        assertThat(vacancy.history().runs(HistoryQuery.all().ofRun(run.runId())))
                .hasSize(3);

        RestorePlan back = vacancy.history().planRestore(run.runId(), ODILE);
        vacancy.history().restore(Approval.of(back));

        assertThat(back.counts()).containsEntry("hive", 3L).containsEntry("inspection", 3L);
        assertThat(database.contents("inspection", "photo")).isEqualTo(before);
        assertThat(database.rows("select hive_id, name, pin from hive order by hive_id"))
                .containsExactly("1|Fellside One|null", "2|Fellside Two|null", "3|Bramble|null");
    }

    @OnEveryEngine
    void aChunkOfABulkRunComesBackAlone(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        Plan plan = vacancy.plan(Selection.of("hive").keys(List.of(1, 2, 3)), ODILE);
        BulkOptions options = BulkOptions.defaults().chunk(1);
        BulkRun run = vacancy.bulk().start(Approval.inChunks(plan), options);
        vacancy.bulk().work(run.runId(), options, Exemption.none(), soFar -> {});
        UUID last = vacancy.history().runs(HistoryQuery.all()).get(0).runId();

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(last, ODILE)));

        assertThat(database.rows("select hive_id from hive")).containsExactly("3");
        assertThat(vacancy.history().planRestore(run.runId(), ODILE).conflicts())
                .extracting(Conflict::key)
                .contains("3");
    }

    /** Runs that meet at the end of the chain wait for each other. */
    @OnEveryEngine
    void manyAtOnceMakeOneChain(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        for (int hive = 100; hive < 148; hive++) {
            database.run("insert into hive values (" + hive + ", 'Hive " + hive + "', null)");
        }
        Vacancy vacancy = vacancy(database);
        ExecutorService threads = Executors.newFixedThreadPool(16);
        List<Callable<Outcome>> deletions = new ArrayList<>();
        for (int hive = 100; hive < 148; hive++) {
            int key = hive;
            deletions.add(() -> deletePatiently(vacancy, key));
        }

        List<Future<Outcome>> done = threads.invokeAll(deletions);
        threads.shutdown();

        for (Future<Outcome> outcome : done) {
            assertThat(outcome.get().total()).isEqualTo(1);
        }
        assertThat(database.count("hive")).isEqualTo(3);
        Verification verification = vacancy.history().verify(Optional.empty());
        assertThat(verification.faults()).isEmpty();
        assertThat(verification.runs()).isEqualTo(48);
    }

    /** A database with one lock for all sends whoever comes too late away; they come again. */
    private static Outcome deletePatiently(Vacancy vacancy, int key) {
        for (int tries = 1; ; tries++) {
            try {
                return delete(vacancy, key);
            } catch (LockedException busy) {
                if (tries == 50) {
                    throw busy;
                }
            }
        }
    }

    @OnEveryEngine
    void whatIsTakenBackHasNeverHappened(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            joined.run(Approval.of(joined.plan(Selection.of("hive").key(1), ODILE)));
            assertThat(joined.history().runs(HistoryQuery.all())).hasSize(1);
            connection.rollback();
        }

        assertThat(vacancy.history().runs(HistoryQuery.all())).isEmpty();
        assertThat(database.count("vacancy_trail_entry")).isZero();
        assertThat(database.count("hive")).isEqualTo(3);
    }

    @OnEveryEngine
    void aTrailThatIsMissingOrOfAnotherVersionIsToldAtTheStart(Engine engine) {
        Database database = engine.database();
        database.run("create table hive (hive_id integer primary key)");

        assertThatThrownBy(() -> Vacancy.over(database.source(), BOOK.trail(Trail.defaults())))
                .hasMessageContaining("The tables of the audit trail are missing")
                .hasMessageContaining("ddl");
        Ddl.of(database.source(), RuleBook.bySchema().trail(Trail.defaults())).apply();
        assertThat(Ddl.of(database.source(), RuleBook.bySchema().trail(Trail.defaults()))
                        .statements())
                .isEmpty();
        database.run("update vacancy_trail_run set kind = 'trail 0' where place = 0");
        assertThatThrownBy(() ->
                        Vacancy.over(database.source(), RuleBook.bySchema().trail(Trail.defaults())))
                .hasMessageContaining("another version: 'trail 0'");
    }

    @OnEveryEngine
    void withoutATrailThereIsNoWayBackAndThatIsSaid(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source());

        Plan plan = vacancy.plan(Selection.of("hive").key(3), ODILE);

        assertThat(plan.isReversible()).isFalse();
        assertThat(Question.about(plan).text()).isEqualTo("Delete hive 3 'Bramble'? There is no way back.");
        assertThatThrownBy(() -> vacancy.history().runs(HistoryQuery.all())).hasMessageContaining("no audit trail");
        assertThat(vacancy.catalog().tables())
                .extracting(table -> table.name())
                .containsExactlyInAnyOrder("hive", "inspection", "photo");
    }

    @OnEveryEngine
    void namesOfTheTablesAreTheUsersChoice(Engine engine) {
        Database database = larkmoor(engine);
        RuleBook book = RuleBook.bySchema().trail(Trail.defaults().named("larkmoor_runs", "larkmoor_entries"));
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);

        delete(vacancy, 1);

        assertThat(database.count("larkmoor_entries")).isEqualTo(4);
        assertThatThrownBy(() -> Ddl.of(
                        database.source(),
                        RuleBook.bySchema().trail(Trail.defaults().named("a; drop table hive", "b"))))
                .hasMessageContaining("can't be the name of a table");
    }

    /** A rule that a link is kept doesn't stand in the way of what comes back. */
    @OnEveryEngine
    void whatPointedNowhereMayPointNowhereAgain(Engine engine) {
        Database database = larkmoor(engine);
        database.run(
                "create table note (note_id integer primary key, hive_no integer)", "insert into note values (1, 77)");
        RuleBook book = BOOK.link("note.hive_no", "hive").on("note.hive_no", Clause.keep());
        Vacancy vacancy = Vacancy.over(database.source(), book);
        Outcome outcome =
                vacancy.run(Approval.of(vacancy.plan(Selection.of("note").key(1), ODILE)));

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE)));

        assertThat(database.rows("select note_id, hive_no from note")).containsExactly("1|77");
    }

    @OnEveryEngine
    void aTableThatIsEmptiedAtOnceComesBackToo(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        List<String> before = database.contents("photo");
        EmptyingPlan plan = vacancy.plan(Emptying.of("photo"), ODILE);

        Outcome outcome = vacancy.run(Approval.of(plan));
        assertThat(database.count("photo")).isZero();
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE)));

        assertThat(database.contents("photo")).isEqualTo(before);
        assertThat(faults(vacancy)).isEmpty();
    }

    /** Ten million bytes and as many characters, in a table with a small record beside them. */
    @OnEveryEngine
    void aLargeObjectComesBackByteByByte(Engine engine) throws Exception {
        Database database = engine.database();
        String text = engine == Engine.MARIADB ? "longtext" : engine == Engine.H2 ? "clob" : "text";
        String bytes = engine == Engine.MARIADB ? "longblob" : engine == Engine.POSTGRESQL ? "bytea" : "blob";
        database.run("create table photo (photo_id integer primary key, caption " + text + ", pixels " + bytes + ")");
        byte[] pixels = new byte[10_000_000];
        new Random(7).nextBytes(pixels);
        String caption = "bees \u00e9 \ud83d\udc1d \\ \"".repeat(500_000);
        try (Connection connection = database.connect();
                PreparedStatement insert = connection.prepareStatement("insert into photo values (?, ?, ?)")) {
            insert.setInt(1, 1);
            insert.setString(2, caption);
            insert.setBytes(3, pixels);
            insert.executeUpdate();
        }
        RuleBook book = RuleBook.bySchema().trail(Trail.defaults());
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);

        Outcome outcome =
                vacancy.run(Approval.of(vacancy.plan(Selection.of("photo").key(1), ODILE)));
        assertThat(database.count("photo")).isZero();
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE)));

        try (Connection connection = database.connect();
                PreparedStatement query = connection.prepareStatement("select caption, pixels from photo");
                ResultSet row = query.executeQuery()) {
            assertThat(row.next()).isTrue();
            assertThat(row.getString(1).equals(caption)).isTrue();
            assertThat(Arrays.equals(row.getBytes(2), pixels)).isTrue();
        }
        assertThat(faults(vacancy)).isEmpty();
    }

    @OnEveryEngine
    void whatWouldBeLostBelowAMarkedParentIsRefusedAtTheStart(Engine engine) {
        Database database = larkmoor(engine);
        database.run("alter table hive add column given_up_at timestamp null");
        RuleBook book = RuleBook.bySchema()
                .marker("hive", Marker.timestamp("given_up_at"))
                .soft("hive");

        assertThatThrownBy(() -> Vacancy.over(database.source(), book))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("records of inspection go for good when a hive is only marked");
        assertThat(Vacancy.over(database.source(), book.on("inspection.hive_id", Clause.keep()))
                        .plan(Selection.of("hive").key(1), ODILE)
                        .counts())
                .containsOnlyKeys("hive");
    }

    @OnEveryEngine
    void oneRecordOfARunComesBackWithWhatWentWithIt(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database);
        Outcome outcome = delete(vacancy, 1, 2);

        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), "hive", "1", ODILE);
        vacancy.history().restore(Approval.of(plan));

        assertThat(plan.counts()).containsOnly(Map.entry("hive", 1L), Map.entry("inspection", 2L));
        assertThat(plan.putBack()).containsOnly(Map.entry("photo.hive_id", 1L));
        assertThat(database.rows("select hive_id from hive order by hive_id")).containsExactly("1", "3");
        assertThat(database.rows("select photo_id, hive_id from photo order by photo_id"))
                .containsExactly("100|1", "200|null");
        assertThatThrownBy(() -> vacancy.history().planRestore(outcome.runId(), "hive", "3", ODILE))
                .hasMessageContaining("knows nothing of hive 3");
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), "hive", "2", ODILE)));
        assertThat(database.count("hive")).isEqualTo(3);
        assertThat(faults(vacancy)).isEmpty();
    }
}
