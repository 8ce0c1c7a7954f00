package dev.vacancy.followup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.followup.Photos.Notes;
import dev.vacancy.followup.Photos.Watch;
import dev.vacancy.history.History;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Whatever is committed is followed outside of the database, and nothing else is. */
class FollowUpsTest {
    private final Watch watch = new Watch();
    private final Notes files = new Notes();
    private final Notes search = new Notes();

    private Vacancy over(Database database) {
        return Photos.vacancy(database, watch).withFollowUp("files", files).withFollowUp("search", search);
    }

    @OnEveryEngine
    void whateverHappensToARecordIsTold(Engine engine) {
        Vacancy vacancy = over(Photos.on(engine));
        FollowUps followUps = vacancy.followUps();

        UUID gone = vacancy.delete(Selection.of("hive").key(1), Photos.ODILE).runId();
        assertThat(followUps.list(2)).hasSize(2);
        assertThat(followUps.count(FollowUpState.OPEN)).isEqualTo(3);
        assertThat(followUps.work()).isEqualTo(3);
        assertThat(files.messages()).allSatisfy(message -> {
            assertThat(message.run()).isEqualTo(gone);
            assertThat(message.by()).isEqualTo(Photos.ODILE);
            assertThat(message.at()).isEqualTo(watch.instant());
            assertThat(message.values()).containsKey("path");
        });
        assertThat(files.taken())
                .containsExactlyInAnyOrder("deleted photo 10 {path=a/10.jpg} -", "deleted photo 11 {path=a/11.jpg} -");
        assertThat(search.taken()).containsExactly("deleted hive 1 {name=Fellside One, keeper_id=1} -");

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(gone, Photos.ODILE)));
        followUps.work();
        assertThat(files.taken())
                .containsExactlyInAnyOrder(
                        "restored photo 10 - {path=a/10.jpg}", "restored photo 11 - {path=a/11.jpg}");
        assertThat(search.taken()).containsExactly("restored hive 1 - {name=Fellside One, keeper_id=1}");

        UUID left = vacancy.delete(Selection.of("keeper").key(2), Photos.ODILE).runId();
        followUps.work();
        assertThat(files.taken()).containsExactly("marked keeper 2 {portrait=una.jpg} -");
        assertThat(search.taken())
                .containsExactlyInAnyOrder(
                        "changed hive 2 {name=Bramble One, keeper_id=2} {name=Bramble One, keeper_id=null}",
                        "changed hive 3 {name=Bramble Two, keeper_id=2} {name=Bramble Two, keeper_id=null}");

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(left, Photos.ODILE)));
        followUps.work();
        assertThat(files.taken()).containsExactly("restored keeper 2 - {portrait=una.jpg}");
        assertThat(search.taken())
                .contains("changed hive 2 {name=Bramble One, keeper_id=null} {name=Bramble One, keeper_id=2}");

        vacancy.delete(Selection.of("keeper").key(2), Photos.ODILE);
        vacancy.delete(Selection.of("keeper").key(2).hard(), Photos.ODILE);
        followUps.work();
        assertThat(files.taken())
                .containsExactly("marked keeper 2 {portrait=una.jpg} -", "deleted keeper 2 {portrait=una.jpg} -");
        assertThat(followUps.work()).isZero();
        assertThat(followUps.count(FollowUpState.OPEN)).isZero();
    }

    @OnEveryEngine
    void aPurgeIsTheEnd(Engine engine) {
        Vacancy vacancy = over(Photos.on(engine));
        vacancy.delete(Selection.of("keeper").key(2), Photos.ODILE);
        watch.pass(Duration.ofDays(31));
        vacancy.delete(vacancy.pastRetention("keeper"), Photos.ODILE);

        vacancy.followUps().work();

        assertThat(files.taken())
                .containsExactly("marked keeper 2 {portrait=una.jpg} -", "purged keeper 2 {portrait=una.jpg} -");
    }

    @OnEveryEngine
    void whatIsRolledBackIsFollowedByNothing(Engine engine) throws Exception {
        Database database = Photos.on(engine);
        Vacancy vacancy = over(database);
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            vacancy.joining(connection).delete(Selection.of("hive").key(1), Photos.ODILE);
            assertThatThrownBy(() -> vacancy.joining(connection).followUps())
                    .isInstanceOf(InvalidRequestException.class);
            connection.rollback();
        }
        assertThat(vacancy.followUps().work()).isZero();

        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            vacancy.joining(connection).delete(Selection.of("photo").key(20), Photos.ODILE);
            connection.commit();
        }
        assertThat(vacancy.followUps().work()).isEqualTo(1);
    }

    @OnEveryEngine
    void itBeginsWhenItIsMade(Engine engine) {
        Database database = Photos.on(engine);
        over(database).delete(Selection.of("photo").key(20), Photos.ODILE);
        RuleBook more = Photos.RULES.followUp("photo", FollowUp.named("gallery"));
        Vacancy vacancy = Vacancy.over(database.source(), more, watch).withFollowUp("gallery", files);

        assertThatThrownBy(() -> vacancy.followUps().work())
                .hasMessageContaining("The follow-up 'gallery' hasn't begun")
                .hasMessageContaining("vacancy ddl --apply");
        Ddl ddl = Ddl.of(database.source(), more);
        assertThat(ddl.statements()).hasSize(1);
        ddl.apply();
        assertThat(Ddl.of(database.source(), more).isNeeded()).isFalse();
        assertThat(vacancy.followUps().work()).isZero();
        vacancy.delete(Selection.of("photo").key(10), Photos.ODILE);
        assertThat(vacancy.followUps().work()).isEqualTo(1);
        assertThat(files.taken()).containsExactly("deleted photo 10 {} -");
    }

    @OnEveryEngine
    void whatFailsIsTriedAfterLongerEachTimeAndThenWaitsForSomebody(Engine engine) {
        List<Duration> tried = new ArrayList<>();
        Vacancy vacancy = Photos.vacancy(Photos.on(engine), watch).withFollowUp("files", message -> {
            if (message.key().equals(Optional.of("10"))) {
                tried.add(Duration.between(message.at(), watch.instant()));
                throw new IllegalStateException("the disk is full");
            }
            files.handle(message);
        });
        FollowUps followUps = vacancy.followUps();
        UUID run = vacancy.delete(Selection.of("hive").key(1), Photos.ODILE).runId();
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, Photos.ODILE)));

        for (int hour = 0; hour < 40; hour++) {
            followUps.work();
            watch.pass(Duration.ofMinutes(10));
        }

        assertThat(files.taken())
                .containsExactly("deleted photo 11 {path=a/11.jpg} -", "restored photo 11 - {path=a/11.jpg}");
        assertThat(tried).hasSize(FollowUps.MOST_ATTEMPTS).isSorted();
        assertThat(tried.get(9).minus(tried.get(8))).isGreaterThan(tried.get(5).minus(tried.get(4)));
        assertThat(followUps.count(FollowUpState.FAILED)).isEqualTo(1);
        // One waits behind the failed one, two are of a follow-up that has no handler here.
        assertThat(followUps.count(FollowUpState.OPEN)).isEqualTo(3);
        FollowUpMessage failed = followUps.list(10).get(0);
        assertThat(failed.failure()).contains("the disk is full");
        assertThat(failed.attempts()).isEqualTo(FollowUps.MOST_ATTEMPTS);
        assertThat(followUps.find(failed.id())).isEqualTo(failed);

        followUps.again(failed.id());
        assertThat(followUps.work()).isZero();
        assertThat(tried).hasSize(FollowUps.MOST_ATTEMPTS + 1);
        followUps.giveUp(failed.id());
        followUps.work();
        assertThat(tried).hasSize(FollowUps.MOST_ATTEMPTS + 2);
        assertThatThrownBy(() -> followUps.find(failed.id())).hasMessageContaining("There is no message");
        assertThatThrownBy(() -> followUps.giveUp(failed.id())).isInstanceOf(InvalidRequestException.class);
        assertThatThrownBy(() -> followUps.again(failed.id())).isInstanceOf(InvalidRequestException.class);
    }

    @OnEveryEngine
    void whoeverIsBusySaysWhenToComeBack(Engine engine) {
        Vacancy vacancy = Photos.vacancy(Photos.on(engine), watch).withFollowUp("files", message -> {
            files.handle(message);
            throw new TryLaterException("busy", Duration.ofHours(3));
        });
        vacancy.delete(Selection.of("photo").key(10), Photos.ODILE);

        vacancy.followUps().work();
        watch.pass(Duration.ofMinutes(179));
        vacancy.followUps().work();
        assertThat(files.messages()).hasSize(1);
        watch.pass(Duration.ofMinutes(1));
        vacancy.followUps().work();

        assertThat(files.messages()).extracting(FollowUpMessage::attempts).containsExactly(0, 1);
        assertThat(files.messages())
                .extracting(FollowUpMessage::id)
                .containsOnly(files.messages().get(0).id());
    }

    /** A process that is killed leaves messages that nobody has handled. */
    @OnEveryEngine
    void whatSomebodyHadTakenComesAgain(Engine engine) {
        Database database = Photos.on(engine);
        Vacancy dying = Photos.vacancy(database, watch).withFollowUp("files", message -> {
            throw new AssertionError("killed");
        });
        dying.delete(Selection.of("hive").key(1), Photos.ODILE);
        assertThatThrownBy(() -> dying.followUps().work()).isInstanceOf(AssertionError.class);
        Vacancy living = over(database);

        assertThat(living.followUps().work()).isEqualTo(1);
        assertThat(files.taken()).isEmpty();
        watch.pass(Duration.ofMinutes(5));
        assertThat(living.followUps().work()).isEqualTo(2);

        assertThat(files.messages()).extracting(FollowUpMessage::attempts).containsExactly(1, 1);
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void severalWorkersHandleEachOnce(Engine engine) throws Exception {
        Database database = Photos.on(engine);
        for (int photo = 100; photo < 300; photo++) {
            database.run("insert into photo values (" + photo + ", 3, 'c/" + photo + "')");
        }
        Vacancy vacancy = over(database);
        vacancy.delete(Selection.of("hive").key(3), Photos.ODILE);
        ExecutorService workers = Executors.newFixedThreadPool(3);
        List<Future<Long>> handled = workers.invokeAll(
                Collections.nCopies(3, () -> vacancy.followUps().work()));
        workers.shutdown();

        long all = 0;
        for (Future<Long> each : handled) {
            all += each.get();
        }
        assertThat(all).isEqualTo(201);
        assertThat(files.messages()).hasSize(200);
        assertThat(new HashSet<>(
                        files.messages().stream().map(FollowUpMessage::id).toList()))
                .hasSize(200);
    }

    @OnEveryEngine
    void largeRunsAreReadInPortions(Engine engine) {
        Database database = Photos.on(engine);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        int photos = 2_345;
        for (int from = 0; from < photos; from += 469) {
            StringBuilder rows = new StringBuilder();
            for (int photo = from; photo < from + 469; photo++) {
                rows.append(rows.length() == 0 ? "" : ", ").append("(" + (1000 + photo) + ", 3, 'c')");
            }
            database.run("insert into photo values " + rows);
        }
        Vacancy vacancy = over(database);
        UUID run = vacancy.delete(Selection.of("hive").key(3), Photos.ODILE).runId();
        assertThat(vacancy.followUps().work()).isEqualTo(photos + 1);
        files.taken();
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, Photos.ODILE)));
        BulkRun bulk = vacancy.bulk()
                .start(Selection.of("photo").keys(List.of(1000, 1001, 1002)), Photos.ODILE, BulkOptions.defaults());
        vacancy.bulk().work(bulk.runId());

        assertThat(vacancy.followUps().work()).isEqualTo(photos + 1 + 3);
        assertThat(files.messages().subList(photos, photos + 3))
                .extracting(FollowUpMessage::action)
                .containsOnly(FollowUpAction.DELETED);
    }

    @OnEveryEngine
    void whatCantComeBackAnyMoreGoesForGood(Engine engine) {
        Vacancy vacancy = over(Photos.on(engine));
        History history = vacancy.history();
        UUID hive = vacancy.delete(Selection.of("hive").key(1), Photos.ODILE).runId();
        history.restore(Approval.of(history.planRestore(hive, Photos.ODILE)));
        vacancy.delete(Selection.of("photo").keys(List.of(11, 20)), Photos.ODILE);
        watch.pass(Duration.ofDays(1));

        assertThat(history.prune(watch.instant(), Photos.ODILE)).isPositive();
        vacancy.followUps().work();

        assertThat(files.taken())
                .contains("deleted photo 11 {path=a/11.jpg} -", "deleted photo 20 {path=b/20.jpg} -")
                .contains("purged photo 11 {path=a/11.jpg} -", "purged photo 20 {path=b/20.jpg} -")
                .doesNotContain("purged photo 10 {path=a/10.jpg} -")
                .containsSubsequence("deleted photo 20 {path=b/20.jpg} -", "purged photo 20 {path=b/20.jpg} -");
    }

    @OnEveryEngine
    void aNewRecordOfTheSameKeyKeepsItsFile(Engine engine) {
        Database database = Photos.on(engine);
        Vacancy vacancy = over(database);
        vacancy.delete(Selection.of("photo").key(20), Photos.ODILE);
        watch.pass(Duration.ofDays(1));
        Instant between = watch.instant();
        watch.pass(Duration.ofDays(1));
        database.run("insert into photo values (20, 2, 'b/20.jpg')");
        vacancy.delete(Selection.of("photo").key(20), Photos.ODILE);
        vacancy.followUps().work();
        files.taken();

        vacancy.history().prune(between, Photos.ODILE);
        vacancy.followUps().work();
        assertThat(files.taken()).isEmpty();
        watch.pass(Duration.ofDays(1));
        vacancy.history().prune(watch.instant(), Photos.ODILE);
        vacancy.followUps().work();
        assertThat(files.taken()).containsExactly("purged photo 20 {path=b/20.jpg} -");
    }

    @OnEveryEngine
    void anErasureTakesTheFileAlong(Engine engine) {
        Vacancy vacancy = over(Photos.on(engine));
        vacancy.delete(Selection.of("photo").key(10), Photos.ODILE);
        vacancy.history().erase("photo", "10", Photos.ODILE);
        vacancy.history().erase("photo", "10", Photos.ODILE);
        vacancy.erase(Approval.ofErasing(vacancy.plan(Selection.of("photo").key(20), Photos.ODILE)));

        vacancy.followUps().work();

        assertThat(files.taken())
                .hasSize(4)
                .containsSubsequence("deleted photo 10 {path=a/10.jpg} -", "purged photo 10 {path=a/10.jpg} -")
                .containsSubsequence("deleted photo 20 {path=b/20.jpg} -", "purged photo 20 {path=b/20.jpg} -");
        assertThat(vacancy.followUps().list(1)).isEmpty();
    }

    @OnEveryEngine
    void whatIsMaskedIsHandedOverAsItWas(Engine engine) {
        Vacancy vacancy = over(Photos.on(engine));
        vacancy.delete(Selection.of("photo").key(10), Photos.ODILE);
        vacancy.history().mask("a/10.jpg", Photos.ODILE);

        vacancy.followUps().work();

        assertThat(files.taken()).containsExactly("deleted photo 10 {path=a/10.jpg} -");
    }

    @OnEveryEngine
    void whatCantBeBroughtBackIsInTheWayOfARestore(Engine engine) {
        Database database = Photos.on(engine);
        Vacancy vacancy = Photos.vacancy(database, watch).withFollowUp("files", new FollowUpHandler() {
            @Override
            public void handle(FollowUpMessage message) {
                files.handle(message);
            }

            @Override
            public Optional<String> hinders(String table, Optional<String> key, Map<String, Object> values) {
                return "a/10.jpg".equals(values.get("path"))
                        ? Optional.of("its file a/10.jpg is gone")
                        : Optional.empty();
            }
        });
        UUID run = vacancy.delete(Selection.of("hive").key(1), Photos.ODILE).runId();

        RestorePlan plan = vacancy.history().planRestore(run, Photos.ODILE);

        assertThat(plan.conflicts()).singleElement().satisfies(conflict -> {
            assertThat(conflict.table()).isEqualTo("photo");
            assertThat(conflict.reason()).isEqualTo("its file a/10.jpg is gone");
        });
        assertThatThrownBy(() -> vacancy.history().restore(Approval.of(plan))).hasMessageContaining("a/10.jpg");
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @ParameterizedTest
    @EnumSource(names = "H2")
    void rulesThatCantBeKeptAreRefused(Engine engine) {
        Database database = Photos.on(engine);
        RuleBook book = RuleBook.bySchema()
                .on("photo.hive_id", Clause.cascade())
                .followUp("photo", FollowUp.named("files").columns("path"));

        assertThatThrownBy(() -> Vacancy.over(database.source(), book))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining(
                        "'files' can't follow photo: it follows what the audit trail tells, and none is kept");
        assertThatThrownBy(() -> Vacancy.over(
                        database.source(),
                        book.trail(Trail.defaults().without("photo.path"))
                                .followUp("photo", FollowUp.named("files"))
                                .followUp("photo", FollowUp.named("files"))
                                .followUp("hive", FollowUp.named("names").columns("nam"))
                                .followUp("hives", FollowUp.named("names"))))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("the trail doesn't keep photo.path")
                .hasMessageContaining("there are two of this name for photo")
                .hasMessageContaining("nam")
                .hasMessageContaining("hives");
        assertThatThrownBy(() -> FollowUp.named("o'clock"))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("A follow-up can't be called 'o'clock'");
        Vacancy vacancy = Photos.vacancy(database, watch);
        assertThatThrownBy(() -> vacancy.withFollowUp("file", files))
                .hasMessageContaining("No follow-up is called 'file': the rules name files, search.");
        assertThatThrownBy(() -> vacancy.followUps().work()).hasMessageContaining("Nobody handles what follows");
        assertThatThrownBy(() -> Vacancy.over(database.source()).followUps())
                .hasMessageContaining("the rules name no follow-up");
        assertThatThrownBy(() -> vacancy.actingFor(By.user("una"), (by, act, table) -> !table.isEmpty())
                        .followUps())
                .hasMessageContaining("una");
    }

    @OnEveryEngine
    void aRunHasNoStatementMoreForIt(Engine engine) {
        Database database = Photos.on(engine);
        RuleBook plain = RuleBook.bySchema()
                .on("photo.hive_id", Clause.cascade())
                .on("hive.keeper_id", Clause.detach())
                .trail(Trail.defaults());
        Vacancy without = Vacancy.over(database.counting(), plain, watch);
        Vacancy with = Vacancy.over(database.counting(), Photos.RULES, watch);
        database.statements();
        without.delete(Selection.of("hive").key(1), Photos.ODILE);
        int statements = database.statements();

        with.delete(Selection.of("hive").key(2), Photos.ODILE);

        assertThat(database.statements()).isEqualTo(statements);
    }

    @OnEveryEngine
    void aPlanSaysWhatWillFollow(Engine engine) {
        Vacancy vacancy = over(Photos.on(engine));

        assertThat(vacancy.plan(Selection.of("hive").key(1), Photos.ODILE).warnings())
                .containsExactly(
                        "The follow-up 'files' is told of 2 records of photo.",
                        "The follow-up 'search' is told of 1 record of hive.");
        assertThat(vacancy.plan(Selection.of("keeper").key(2), Photos.ODILE).warnings())
                .containsExactly(
                        "The follow-up 'files' is told of 1 record of keeper.",
                        "The follow-up 'search' is told of 2 records of hive.");
    }
}
