package dev.vacancy.schedule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.UUID;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

class ScheduledRunsTest {
    private static final By NIGHT_SHIFT = By.program("night shift").because("older than two years");
    private static final ZoneId UTC = ZoneId.of("UTC");
    private static final Duration LONG = Duration.ofSeconds(60);

    private static Database readings(Engine engine) {
        Database database = engine.database();
        database.run("create table reading (reading_id integer primary key, weight integer)");
        StringBuilder rows = new StringBuilder("insert into reading values (1, 40)");
        for (int i = 2; i <= 60; i++) {
            rows.append(", (").append(i).append(", ").append(i).append(')');
        }
        return database.run(rows.toString());
    }

    private static ScheduledDeletion light(String name, OptionalLong atMost, Timing timing) {
        return new ScheduledDeletion(name, "reading", Optional.of("reading_id <= 50"), NIGHT_SHIFT, atMost, timing);
    }

    private static Timing daily(Instant first) {
        return new Timing(Optional.of(first), Optional.of("P1D"), UTC);
    }

    private static Instant aMomentAgo() {
        return Instant.now().minusSeconds(5);
    }

    /** What a worker tells. */
    private static final class Told implements ScheduleListener {
        private final List<BulkRun> ended = new CopyOnWriteArrayList<>();
        private final List<String> refused = new CopyOnWriteArrayList<>();
        private final List<String> leftOut = new CopyOnWriteArrayList<>();

        @Override
        public void ended(BulkRun run) {
            ended.add(run);
        }

        @Override
        public void refused(String name, RuntimeException refusal) {
            refused.add(name + ": " + refusal.getMessage());
        }

        @Override
        public void leftOut(String name, String reason) {
            leftOut.add(name + ": " + reason);
        }
    }

    @OnEveryEngine
    void whatIsDueIsDeletedAndComesAgain(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        Instant due = scheduled.schedule(light("old readings", OptionalLong.of(50), daily(aMomentAgo())));
        Told told = new Told();

        try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults().chunk(20), told)) {
            worker.start();
            await().atMost(LONG).until(() -> !told.ended.isEmpty());
        }

        assertThat(database.count("reading")).isEqualTo(10);
        assertThat(told.ended).singleElement().satisfies(run -> {
            assertThat(run.name()).isEqualTo("old readings");
            assertThat(run.state()).isEqualTo(BulkState.DONE);
            assertThat(run.done()).isEqualTo(50);
            assertThat(run.by()).isEqualTo(NIGHT_SHIFT);
        });
        assertThat(scheduled.list()).singleElement().satisfies(next -> {
            assertThat(Duration.between(due, next.due()).toHours()).isEqualTo(24);
            assertThat(next.last()).hasValueSatisfying(last -> assertThat(last).contains("of 50 records"));
        });
    }

    @OnEveryEngine
    void whatIsKeptIsScheduledOnceAndChangedByItsName(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        Instant tomorrow = Instant.now().plus(Duration.ofDays(1)).truncatedTo(ChronoUnit.MILLIS);

        Instant first = scheduled.scheduleOrUpdate(light("old readings", OptionalLong.of(50), daily(tomorrow)));
        Instant again = scheduled.scheduleOrUpdate(light("old readings", OptionalLong.of(50), daily(tomorrow)));
        Upcoming before = scheduled.list().get(0);
        Instant changed =
                scheduled.scheduleOrUpdate(light("old readings", OptionalLong.of(70), daily(tomorrow.plusSeconds(60))));
        Upcoming after = scheduled.list().get(0);
        scheduled.scheduleOrUpdate(light("other readings", OptionalLong.empty(), daily(tomorrow)));

        assertThat(List.of(first, again)).containsOnly(tomorrow);
        assertThat(before.deletion().atMost()).hasValue(50);
        assertThat(changed).isEqualTo(tomorrow.plusSeconds(60)).isEqualTo(after.due());
        assertThat(after.deletion().atMost()).hasValue(70);
        assertThat(scheduled.list()).hasSize(2);
        database.run("update vacancy_scheduled set picked = true, picked_by = 'night shift'");
        assertThat(scheduled.scheduleOrUpdate(
                        light("old readings", OptionalLong.of(70), daily(tomorrow.plusSeconds(60)))))
                .isEqualTo(changed);
        assertThatThrownBy(
                        () -> scheduled.scheduleOrUpdate(light("old readings", OptionalLong.of(80), daily(tomorrow))))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("being started");
    }

    /** Whoever ends when nothing is due any more would end before what is being started has started. */
    @OnEveryEngine
    void whatIsBeingStartedIsOnTheList(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        scheduled.schedule(light("old readings", OptionalLong.of(50), daily(aMomentAgo())));

        database.run("update vacancy_scheduled set picked = true, picked_by = 'night shift'");

        assertThat(scheduled.list()).hasSize(1);
        assertThatThrownBy(() -> scheduled.cancel("old readings"))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("being started");
    }

    @OnEveryEngine
    void moreThanItMayHaveAreRefusedAndNothingIsDeleted(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        scheduled.schedule(light("old readings", OptionalLong.of(49), daily(aMomentAgo())));
        Told told = new Told();

        try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults(), told)) {
            worker.start();
            await().atMost(LONG).until(() -> !told.refused.isEmpty());
        }

        assertThat(told.refused).singleElement().asString().contains("50").contains("49");
        assertThat(database.count("reading")).isEqualTo(60);
    }

    @OnEveryEngine
    void whatCantBeKeptIsRefusedWhenItIsScheduled(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        String many = IntStream.rangeClosed(1, 1_000).mapToObj(String::valueOf).collect(Collectors.joining(", "));

        assertThatThrownBy(() -> scheduled.schedule(new ScheduledDeletion(
                        "long",
                        "reading",
                        Optional.of("reading_id in (" + many + ")"),
                        NIGHT_SHIFT,
                        OptionalLong.empty(),
                        daily(aMomentAgo()))))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("they are held against each record");
        assertThatThrownBy(() -> scheduled.schedule(new ScheduledDeletion(
                        "long",
                        "reading",
                        Optional.of("reading_id = 1"),
                        // What JSON writes in six characters each.
                        NIGHT_SHIFT.because("\u0001".repeat(1_000)),
                        OptionalLong.empty(),
                        daily(aMomentAgo()))))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("too long to be kept");
        assertThatThrownBy(() -> light("few", OptionalLong.of(-1), daily(aMomentAgo())))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("at most -1");

        assertThat(scheduled.list()).isEmpty();
    }

    /** Two tables, and a bulk run by hand that happens to have the name of the scheduled deletion. */
    @OnEveryEngine
    void aRunOfAnotherTableOfTheSameNameIsInNobodysWay(Engine engine) {
        Database database = readings(engine)
                .run("create table note (note_id integer primary key)", "insert into note values (1), (2)");
        Vacancy vacancy = Vacancy.over(database.source());
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), vacancy);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        vacancy.bulk()
                .pause(vacancy.bulk()
                        .start(
                                Selection.of("note").where(Criteria.parse("note_id = 1")),
                                NIGHT_SHIFT,
                                BulkOptions.defaults().named("old readings"))
                        .runId());
        scheduled.schedule(light("old readings", OptionalLong.empty(), daily(aMomentAgo())));
        Told told = new Told();

        try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults(), told)) {
            worker.start();
            await().atMost(LONG).until(() -> !told.ended.isEmpty());
        }

        assertThat(told.leftOut).isEmpty();
        assertThat(database.count("reading")).isEqualTo(10);
    }

    @OnEveryEngine
    void aPausedRunIsNotPassedByTheNextOne(Engine engine) {
        Database database = readings(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), vacancy);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        ScheduledDeletion deletion = light("old readings", OptionalLong.empty(), daily(aMomentAgo()));
        BulkRun before = vacancy.bulk()
                .start(
                        Approval.inChunks(vacancy.plan(deletion.selection(), NIGHT_SHIFT)),
                        BulkOptions.defaults().named("old readings"));
        vacancy.bulk().pause(before.runId());
        scheduled.schedule(deletion);
        Told told = new Told();

        try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults(), told)) {
            worker.start();
            await().atMost(LONG).until(() -> !told.leftOut.isEmpty());
        }

        assertThat(told.leftOut).containsExactly("old readings: the run before is not done");
        assertThat(vacancy.bulk().list()).hasSize(1);
        assertThat(database.count("reading")).isEqualTo(60);
    }

    @OnEveryEngine
    void whatIsDueOnceGoesOffTheListAndWhatIsDueLaterWaits(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        scheduled.schedule(
                light("now", OptionalLong.empty(), new Timing(Optional.of(aMomentAgo()), Optional.empty(), UTC)));
        scheduled.schedule(
                light("tomorrow", OptionalLong.empty(), daily(Instant.now().plusSeconds(86_400))));
        Told told = new Told();

        try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults(), told)) {
            worker.start();
            await().atMost(LONG)
                    .until(() -> !told.ended.isEmpty() && scheduled.list().size() == 1);
        }

        assertThat(scheduled.list())
                .extracting(upcoming -> upcoming.deletion().name())
                .containsExactly("tomorrow");
        assertThat(database.count("reading")).isEqualTo(10);
    }

    @OnEveryEngine
    void aNameIsGivenOnceAndCanBeTakenOffTheList(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        ScheduledDeletion deletion =
                light("old readings", OptionalLong.empty(), daily(Instant.now().plusSeconds(600)));
        scheduled.schedule(deletion);

        assertThatThrownBy(() -> scheduled.schedule(deletion))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("'old readings' already");
        assertThat(scheduled.list()).extracting(Upcoming::deletion).containsExactly(deletion);

        scheduled.cancel("old readings");

        assertThat(scheduled.list()).isEmpty();
        assertThatThrownBy(() -> scheduled.cancel("old readings"))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.UNKNOWN_RUN));
    }

    @OnEveryEngine
    void whatDoesNotFitTheCatalogIsRefusedWhenItIsScheduled(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Timing timing = daily(Instant.now());
        ScheduledDeletion unknown = new ScheduledDeletion(
                "a", "reading", Optional.of("honey = 3"), NIGHT_SHIFT, OptionalLong.empty(), timing);

        assertThatThrownBy(() -> scheduled.schedule(unknown))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.NO_STATE_TABLES));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        assertThatThrownBy(() -> scheduled.schedule(unknown)).hasMessageContaining("honey");

        assertThat(scheduled.list()).isEmpty();
        assertThat(Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE)
                        .apply())
                .isZero();
    }

    /** Whoever is asked by the rules is asked when it is scheduled, and as hard. */
    @OnEveryEngine
    void whatPeopleAreAskedAboutIsntScheduledUnasked(Engine engine) {
        Database database = readings(engine);
        RuleBook asking = RuleBook.bySchema().consent("reading", ConsentRule.atLeast(Consent.NUMBER));
        Vacancy vacancy = Vacancy.over(database.source(), asking);
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), vacancy);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        ScheduledDeletion deletion = light("old readings", OptionalLong.empty(), daily(aMomentAgo()));
        Plan now = vacancy.plan(deletion.ofAnyNumber(), deletion.by());
        Question question = Question.aboutChunks(now);
        Plan other = vacancy.plan(Selection.of("reading").key(60), deletion.by());

        assertThatThrownBy(() -> scheduled.schedule(deletion)).hasMessageContaining("a person is asked");
        assertThatThrownBy(() -> scheduled.schedule(deletion, Approval.of(now))).hasMessageContaining("at once");
        assertThatThrownBy(() -> scheduled.schedule(deletion, Approval.inChunks(other)))
                .hasMessageContaining("another selection");
        scheduled.schedule(
                deletion, question.answer(question.typed().orElseThrow()).orElseThrow());
        Told told = new Told();
        try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults().chunk(20), told)) {
            worker.start();
            await().atMost(LONG).until(() -> !told.ended.isEmpty());
        }

        assertThat(database.count("reading")).isEqualTo(10);
        assertThat(scheduled.list())
                .singleElement()
                .satisfies(next -> assertThat(next.deletion().given()).isEqualTo(Consent.NUMBER));
    }

    /** Another process, in which rules have become stricter, asks what nobody was asked when it was scheduled. */
    @OnEveryEngine
    void whatWasScheduledUnaskedIsRefusedWhereTheRulesAskByThen(Engine engine) {
        Database database = readings(engine);
        ScheduledRuns lax = ScheduledRuns.over(database.source(), Vacancy.over(database.source()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        lax.schedule(light("old readings", OptionalLong.empty(), daily(aMomentAgo())));
        RuleBook asking = RuleBook.bySchema().consent("reading", ConsentRule.atLeast(Consent.YES));
        ScheduledRuns strict = ScheduledRuns.over(database.source(), Vacancy.over(database.source(), asking));
        Told told = new Told();

        try (ScheduledWorker worker = strict.worker(BulkOptions.defaults(), told)) {
            worker.start();
            await().atMost(LONG).until(() -> !told.refused.isEmpty());
        }

        assertThat(told.refused).singleElement().asString().contains("a person is asked");
        assertThat(database.count("reading")).isEqualTo(60);
    }

    @OnEveryEngine
    void aRunWithAnExemptionIsLeftToWorkersThatHaveIt(Engine engine) {
        Database database = readings(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        ScheduledRuns scheduled = ScheduledRuns.over(database.source(), vacancy);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply();
        Exemption watched = Exemption.named(
                "watched",
                (reading, connection) ->
                        reading.key().text().equals("7") ? Optional.of("it is watched") : Optional.empty());
        ScheduledDeletion deletion = light("old readings", OptionalLong.empty(), daily(aMomentAgo()));
        UUID first = vacancy.bulk()
                .start(Selection.of("reading").key(60), deletion.by(), BulkOptions.defaults())
                .runId();
        scheduled.schedule(deletion.exempting("watched"));
        Told without = new Told();
        try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults().chunk(20), without)) {
            worker.start();
            await().atMost(LONG)
                    .until(() -> vacancy.bulk().list().size() == 2
                            && vacancy.bulk().run(first).state() == BulkState.DONE);
        }
        long before = database.count("reading");
        Told with = new Told();

        try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults().chunk(20), with, watched)) {
            worker.start();
            await().atMost(LONG).until(() -> !with.ended.isEmpty());
        }

        assertThat(before).isEqualTo(59);
        assertThat(with.ended)
                .singleElement()
                .satisfies(run -> assertThat(run.skipped()).isEqualTo(1));
        assertThat(database.rows("select reading_id from reading where reading_id <= 50"))
                .containsExactly("7");
    }
}
