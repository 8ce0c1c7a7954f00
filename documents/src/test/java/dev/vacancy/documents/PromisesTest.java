package dev.vacancy.documents;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.UnexpectedCountException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Trail;
import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What is promised holds on each kind of database, by the same words and calls. */
@Timeout(120)
class PromisesTest {
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final Selection ALDER = Selection.of("hive").key(1);

    /** On each kind of database. */
    @Target(ElementType.METHOD)
    @Retention(RetentionPolicy.RUNTIME)
    @ParameterizedTest
    @EnumSource
    private @interface Everywhere {}

    private static Vacancy recorded(Apiary apiary) {
        return apiary.vacancy(book -> book.trail(Trail.defaults()));
    }

    private static void requireUnchanged(Apiary apiary, ThrowingCallable attempt, FailureCode... codes) {
        List<String> before = apiary.content();
        assertThatThrownBy(attempt).isInstanceOfSatisfying(VacancyException.class, failure -> {
            assertThat(failure.code()).isIn((Object[]) codes);
            assertThat(failure.remedy()).isNotBlank();
        });
        assertThat(apiary.content()).isEqualTo(before);
    }

    @Everywhere
    void lookingChangesNothing(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Vacancy vacancy = recorded(apiary);
        UUID run = vacancy.delete(ALDER, ODILE).runId();
        String before = apiary.everything();

        vacancy.plan(Selection.of("hive").key(3), ODILE).tree();
        vacancy.history().planRestore(run, ODILE);
        vacancy.history().planErasure("hive", "1", ODILE);
        vacancy.history().verify(Optional.empty());

        assertThat(apiary.everything()).isEqualTo(before);
    }

    @Everywhere
    void whatWasApprovedIsWhatHappens(Apiary.Kind kind) {
        List<Consumer<Apiary>> changes = List.of(
                apiary -> apiary.addReading(15, 1, "late"),
                apiary -> recorded(apiary).delete(Selection.of("reading").key(11), ODILE),
                apiary -> apiary.change("hive", 1, "label", "Aspen"),
                apiary -> {
                    recorded(apiary).delete(Selection.of("reading").key(11), ODILE);
                    apiary.addReading(15, 1, "another");
                });
        for (Consumer<Apiary> change : changes) {
            Apiary apiary = kind.apiary();
            Approval approval = Approval.of(recorded(apiary).plan(ALDER, ODILE));
            change.accept(apiary);

            requireUnchanged(apiary, () -> recorded(apiary).run(approval), FailureCode.STALE_PLAN);
        }
    }

    @Everywhere
    void whatGoesTakesWhatBelongsToItAndLeavesNoOrphan(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Plan plan = recorded(apiary).plan(ALDER, ODILE);

        Outcome outcome =
                recorded(apiary).run(Question.about(plan).answer("yes").orElseThrow());

        assertThat(plan.counts()).isEqualTo(Map.of("hive", 1L, "reading", 2L));
        assertThat(outcome.counts()).isEqualTo(plan.counts());
        assertThat(outcome.changed()).isEqualTo(Map.of("photo.hive_id", 1L));
        assertThat(apiary.count("photo")).isEqualTo(2);
        assertThat(apiary.content().toString()).doesNotContain("Alder").contains("at dawn");
    }

    @Everywhere
    void whoForbidsItIsNamed(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Plan plan = recorded(apiary).plan(Selection.of("hive").key(2), ODILE);

        assertThat(plan.blockers()).singleElement().satisfies(blocker -> {
            assertThat(blocker.reason()).isEqualTo("it is on loan");
            assertThat(blocker.children().get(0).record().key().orElseThrow().text())
                    .isEqualTo("31");
        });
        requireUnchanged(
                apiary, () -> recorded(apiary).delete(Selection.of("hive").key(2), ODILE), FailureCode.BLOCKED);
    }

    @Everywhere
    void neverEverythingByAccident(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();

        requireUnchanged(
                apiary,
                () -> recorded(apiary).delete(Selection.of("reading").keys(List.of()), ODILE),
                FailureCode.NOTHING_SELECTED,
                FailureCode.USAGE);
        requireUnchanged(
                apiary,
                () -> recorded(apiary).delete(Selection.of("reading").key((Object) null), ODILE),
                FailureCode.MISSING_VALUE);
        Plan all = recorded(apiary).plan(Selection.of("reading").allRecords(), ODILE);
        assertThat(Question.about(all).typed()).contains("4");
        assertThat(Question.about(all).answer("yes")).isEmpty();
    }

    @Everywhere
    void neverTheWrongOneSilently(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Selection light = Selection.of("reading").where(Criteria.column("note").equalTo("light"));

        assertThatThrownBy(() -> recorded(apiary).delete(light.expecting(1), ODILE))
                .isInstanceOf(UnexpectedCountException.class);
        assertThat(apiary.count("reading")).isEqualTo(4);
        Plan some = recorded(apiary).plan(Selection.of("reading").keys(List.of(11, 99)), ODILE);
        assertThat(some.selected()).isEqualTo(1);
        assertThat(some.notFound()).extracting(Object::toString).containsExactly("99");
    }

    @Everywhere
    void everyValueIsAValueAndEveryNameIsKnown(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        List<String> before = apiary.content();
        for (String hostile :
                List.of("' or '1' = '1", "\"; drop table hive; --", "{\"$ne\": null}", "$where", ".*", "%")) {
            Outcome outcome = recorded(apiary)
                    .delete(
                            Selection.of("reading")
                                    .where(Criteria.column("note").equalTo(hostile)),
                            ODILE);
            assertThat(outcome.total()).as(hostile).isZero();
        }
        assertThat(apiary.content()).isEqualTo(before);
        requireUnchanged(
                apiary,
                () -> recorded(apiary)
                        .plan(
                                Selection.of("reading")
                                        .where(Criteria.column("$where").equalTo("1")),
                                ODILE),
                FailureCode.UNKNOWN_COLUMN);
        requireUnchanged(
                apiary, () -> recorded(apiary).plan(Selection.of("hive; --").key(1), ODILE), FailureCode.UNKNOWN_TABLE);
    }

    @Everywhere
    void whatComesBackIsWhatWent(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        List<String> before = apiary.content();
        Vacancy vacancy = recorded(apiary);
        UUID run = vacancy.delete(ALDER, ODILE).runId();
        UUID marked = vacancy.delete(Selection.of("keeper").key(2), ODILE).runId();
        assertThat(apiary.content()).isNotEqualTo(before);

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(marked, ODILE)));
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));

        assertThat(apiary.count("hive")).isEqualTo(3);
        assertThat(fields(apiary.content())).isEqualTo(fields(before));
    }

    /** A field that was taken away comes back at the end of its document, and a row has all its columns always. */
    private static List<List<String>> fields(List<String> content) {
        return content.stream()
                .map(text -> List.of(text.replaceAll("[\\[\\]{}]", " ").split("[,: ]+")).stream()
                        .filter(word -> !word.equals("left_at=null"))
                        .sorted()
                        .toList())
                .toList();
    }

    @Everywhere
    void whoeverChangesTheTrailIsFound(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Vacancy vacancy = recorded(apiary);
        vacancy.delete(ALDER, ODILE);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();

        apiary.tamper();

        assertThat(vacancy.history().verify(Optional.empty()).faults()).isNotEmpty();
    }

    @Everywhere
    void whatIsHeldNeitherGoesNorChanges(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Vacancy vacancy = recorded(apiary);
        vacancy.history().hold("photo", "label = 'at dawn'", By.user("ansel").because("a dispute"));
        vacancy.history().hold("reading", "note = 'light'", By.user("ansel").because("a dispute"));

        requireUnchanged(apiary, () -> vacancy.delete(ALDER, ODILE), FailureCode.BLOCKED);
        requireUnchanged(apiary, () -> vacancy.delete(Selection.of("photo").key(21), ODILE), FailureCode.BLOCKED);
        Selection light = Selection.of("reading").where(Criteria.column("note").equalTo("light"));
        requireUnchanged(apiary, () -> vacancy.delete(light, ODILE), FailureCode.BLOCKED);
        UUID bulk = vacancy.bulk().start(light, ODILE, BulkOptions.defaults()).runId();
        assertThat(vacancy.bulk().work(bulk).failed()).isEqualTo(2);
        assertThat(apiary.count("reading")).isEqualTo(4);
    }

    @Everywhere
    void nothingIsPurgedBeforeItsTime(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        recorded(apiary).delete(Selection.of("keeper").key(2), ODILE);

        Vacancy early = later(apiary, Duration.ofDays(9));
        assertThat(early.delete(early.pastRetention("keeper"), ODILE).total()).isZero();
        assertThat(apiary.count("keeper")).isEqualTo(2);
        Vacancy late = later(apiary, Duration.ofDays(11));
        assertThat(late.delete(late.pastRetention("keeper"), ODILE).total()).isEqualTo(1);
        assertThat(apiary.count("keeper")).isEqualTo(1);
    }

    private static Vacancy later(Apiary apiary, Duration by) {
        return apiary.vacancy(book -> book.trail(Trail.defaults()), Clock.offset(Clock.systemUTC(), by));
    }

    @Everywhere
    void nothingIsLeftOfWhatIsForgotten(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Vacancy vacancy = recorded(apiary);
        assertThat(apiary.everything()).contains("Alder", "heavy");
        Plan plan = vacancy.plan(ALDER.hard(), ODILE);

        vacancy.erase(Question.aboutErasing(plan).answer("yes").orElseThrow());

        assertThat(apiary.everything()).doesNotContain("Alder");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Everywhere
    void aDoorThatCantBePassedInOneWayCantBePassedInAnother(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Vacancy vacancy = apiary.vacancy(
                book -> book.trail(Trail.defaults()).consent("hive", ConsentRule.atLeast(Consent.LABEL)));
        Plan plan = vacancy.plan(ALDER.hard(), By.program("nightly"));
        FailureCode[] refused = {FailureCode.NOT_AGREED};

        requireUnchanged(apiary, () -> vacancy.delete(ALDER, By.program("nightly")), refused);
        requireUnchanged(apiary, () -> vacancy.run(Approval.of(plan)), refused);
        requireUnchanged(apiary, () -> vacancy.erase(Approval.ofErasing(plan)), refused);
        requireUnchanged(
                apiary, () -> vacancy.bulk().start(ALDER, By.program("nightly"), BulkOptions.defaults()), refused);
        requireUnchanged(apiary, () -> vacancy.bulk().start(Approval.inChunks(plan), BulkOptions.defaults()), refused);
        assertThat(Question.about(plan).answer("yes")).isEmpty();
        vacancy.run(Question.about(plan).answer("Alder").orElseThrow());
        assertThat(apiary.count("hive")).isEqualTo(2);
    }

    @Everywhere
    void anApprovalIsOfItsDatabaseAndItsRules(Apiary.Kind kind) {
        Apiary apiary = kind.apiary();
        Plan plan = recorded(apiary).plan(ALDER, ODILE);
        Apiary another = kind.apiary();

        assertThatThrownBy(() -> recorded(another).run(Approval.of(plan))).isInstanceOf(VacancyException.class);
        requireUnchanged(
                apiary,
                () -> apiary.vacancy(book -> book).run(Approval.of(plan)),
                FailureCode.RULES,
                FailureCode.NO_TRAIL);
        assertThat(another.count("hive")).isEqualTo(3);
    }

    @Everywhere
    void aBulkRunTakesEachRecordOnceAndSaysWhatIsLeft(Apiary.Kind kind) throws Exception {
        Apiary apiary = kind.apiary();
        IntStream.range(100, 160).forEach(key -> apiary.addReading(key, 1 + key % 3, "more"));
        Vacancy vacancy = recorded(apiary);
        UUID run = vacancy.bulk()
                .start(Selection.of("hive").allRecords(), ODILE, BulkOptions.defaults())
                .runId();

        BulkRun done = together(3, () -> recorded(apiary).bulk().work(run)).get(0);

        assertThat(vacancy.bulk().run(run).state()).isEqualTo(BulkState.DONE);
        assertThat(done.records()).isEqualTo(3);
        BulkRun whole = vacancy.bulk().run(run);
        assertThat(List.of(whole.done(), whole.failed(), whole.skipped()))
                .as(vacancy.bulk().failures(run, 10).toString())
                .containsExactly(2L, 1L, 0L);
        assertThat(apiary.count("hive")).isEqualTo(1);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Everywhere
    void ofManyAtOnceEachRecordIsToldOnce(Apiary.Kind kind) throws Exception {
        Apiary apiary = kind.apiary();
        Vacancy vacancy = recorded(apiary);

        List<Long> gone = together(4, () -> {
            try {
                return recorded(apiary).delete(ALDER, ODILE).total();
            } catch (StalePlanException | BlockedException beaten) {
                return 0L;
            } catch (VacancyException busy) {
                assertThat(busy.code()).isIn(FailureCode.LOCKED, FailureCode.TRY_AGAIN);
                return 0L;
            }
        });

        assertThat(gone.stream().mapToLong(Long::longValue).sum()).isEqualTo(3);
        assertThat(vacancy.history().entries(HistoryQuery.all().ofTable("hive")))
                .hasSize(1);
        assertThat(apiary.count("reading")).isEqualTo(2);
    }

    private static <T> List<T> together(int number, Callable<T> work) throws Exception {
        ExecutorService several = Executors.newFixedThreadPool(number);
        try {
            List<T> results = new ArrayList<>();
            for (Future<T> one : several.invokeAll(Collections.nCopies(number, work))) {
                results.add(one.get());
            }
            return results;
        } finally {
            several.shutdown();
        }
    }
}
