package dev.vacancy.documents.internal;

import static dev.vacancy.documents.DocumentServer.dump;
import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.MongoBulkWriteException;
import com.mongodb.MongoException;
import com.mongodb.ServerAddress;
import com.mongodb.bulk.BulkWriteError;
import com.mongodb.bulk.BulkWriteResult;
import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.documents.DocumentServer;
import dev.vacancy.documents.Documents;
import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailRun;
import dev.vacancy.history.Verification;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.running.Redeeming;
import dev.vacancy.internal.running.StoredReceipt;
import dev.vacancy.internal.running.TakenException;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import org.bson.BsonDocument;
import org.bson.Document;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Runs that end in the middle, and documents that change in the middle of a run. */
abstract class CutOffRuns {
    /** Where the documents are. */
    abstract DocumentServer server();

    static final By ODILE = By.user("odile");
    static final Instant NOW = Instant.parse("2026-06-01T09:00:00Z");
    static final Clock THEN = Clock.fixed(NOW, ZoneOffset.UTC);
    static final Clock LATER = Clock.fixed(NOW.plus(Intention.GIVEN_UP).plus(Duration.ofSeconds(1)), ZoneOffset.UTC);
    private static final Set<String> WRITES =
            Set.of("insertOne", "insertMany", "updateOne", "updateMany", "bulkWrite", "deleteMany", "deleteOne");

    static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .link("photo.hives", "hive")
            .on("photo.hives", Clause.detach())
            .link("photo.reading", "reading")
            .on("photo.reading", Clause.block("it is on a photo"));

    MongoDatabase larkmoor;
    Map<String, List<String>> before;
    Map<String, List<String>> after;

    @BeforeEach
    void fill() {
        larkmoor = server().database();
        refill();
        before = dump(larkmoor);
        over(server().client(), THEN).delete(Selection.of("hive").key(1), ODILE);
        after = dump(larkmoor);
        refill();
    }

    private void refill() {
        larkmoor.drop();
        put(larkmoor, "hive", "{_id: 1, label: 'Alder'}", "{_id: 2, label: 'Birch'}");
        List<Document> readings = new ArrayList<>();
        for (int i = 0; i < 903; i++) {
            readings.add(new Document("_id", i).append("hive", i % 3 == 0 ? 2 : 1));
        }
        larkmoor.getCollection("reading").insertMany(readings);
        put(larkmoor, "photo", "{_id: 'p1', hives: [1, 2]}", "{_id: 'p2', hives: [1]}");
    }

    Vacancy over(MongoClient client, Clock clock) {
        return Documents.over(client, larkmoor.getName(), RULES, clock);
    }

    @Test
    void aRunThatIsCutOffAnywhereIsFinishedOrTakenBackByWhoeverComesNext() {
        AtomicInteger unknown = new AtomicInteger();
        int places = cutOffAnywhere(
                this::refill,
                cut -> {
                    try {
                        over(cut, THEN).delete(Selection.of("hive").key(1), ODILE);
                    } catch (VacancyException cutOff) {
                        boolean told = cutOff.code() == FailureCode.OUTCOME_UNKNOWN;
                        unknown.addAndGet(told ? 1 : 0);
                        assertThat(told || without(dump(larkmoor)).equals(before))
                                .as("changed, and told as unchanged")
                                .isTrue();
                        throw cutOff;
                    }
                },
                place -> {
                    over(server().client(), LATER);
                    assertThat(dump(larkmoor)).as("cut off at place %d", place).isIn(before, after);
                });
        assertThat(places).isGreaterThan(5);
        assertThat(unknown.get()).isPositive();
    }

    @Test
    void aRunThatIsCutOffIsToldOnceOrNotAtAll() {
        int places = cutOffAnywhere(
                this::refillAndTell,
                cut -> told(cut, THEN).delete(Selection.of("hive").key(1), ODILE),
                place -> {
                    History history = told(LATER).history();

                    requireWholeAndTold(history, place, after, 1);
                    assertThat(history.verify(Optional.empty()).entries())
                            .isEqualTo(dump(larkmoor).equals(after) ? 605 : 0);
                });
        assertThat(places).isGreaterThan(5);
    }

    @Test
    void aRestoreThatIsCutOffAnywhereIsFinishedOrTakenBack() {
        int places = cutOffAnywhere(
                () -> {
                    refill();
                    told(THEN).delete(Selection.of("hive").key(1), ODILE);
                },
                cut -> {
                    History history = told(cut, THEN).history();
                    UUID run = history.runs(HistoryQuery.all()).get(0).runId();
                    history.restore(Approval.of(history.planRestore(run, ODILE)));
                },
                place -> requireWholeAndTold(told(LATER).history(), place, before, 2));
        assertThat(places).isGreaterThan(5);
    }

    @Test
    void anApprovalIsRedeemedByARunThatIsCutOffOnceOrNotAtAll() {
        Redeeming redeeming = new Redeeming("a1", NOW.plus(Duration.ofMinutes(10)));
        AtomicInteger finished = new AtomicInteger();
        int places = cutOffAnywhere(this::refillAndTell, cut -> redeem(told(cut, THEN), redeeming), place -> {
            Vacancy later = told(LATER);
            Optional<StoredReceipt> receipt = Engine.behind(later).redeemed().find(redeeming.approval());

            requireWholeAndTold(later.history(), place, after, 1);
            assertThat(receipt.map(StoredReceipt::run))
                    .as("cut off at place %d", place)
                    .isEqualTo(later.history().runs(HistoryQuery.all()).stream()
                            .map(TrailRun::runId)
                            .findFirst());
            if (receipt.isEmpty()) {
                assertThat(redeem(later, redeeming).counts()).isEqualTo(Map.of("hive", 1L, "reading", 602L));
            } else {
                finished.incrementAndGet();
                assertThatThrownBy(() -> redeem(later, redeeming)).isInstanceOf(TakenException.class);
            }
        });
        assertThat(finished.get()).isBetween(3, places - 3);
    }

    @Test
    void aBulkRunThatIsCutOffAsItBeginsHasBegunOnceOrNotAtAll() {
        Redeeming redeeming = new Redeeming("a1", NOW.plus(Duration.ofMinutes(10)));
        AtomicInteger begun = new AtomicInteger();
        Runnable prepare = () -> {
            fewReadings();
            told(THEN);
        };
        int places = cutOffAnywhere(prepare, cut -> redeemInChunks(told(cut, THEN), redeeming), place -> {
            assertThat(told(THEN).bulk().list()).hasSizeLessThan(2);
            Vacancy later = told(LATER);
            Optional<StoredReceipt> receipt = Engine.behind(later).redeemed().find(redeeming.approval());
            begun.addAndGet(receipt.isPresent() ? 1 : 0);
            try {
                redeemInChunks(later, redeeming);
                assertThat(receipt).as("cut off at place %d", place).isEmpty();
            } catch (TakenException taken) {
                assertThat(receipt).as("cut off at place %d", place).isPresent();
            }

            assertThat(later.bulk().list()).as("cut off at place %d", place).hasSize(1);
            assertThat(Engine.behind(later)
                            .redeemed()
                            .find(redeeming.approval())
                            .map(StoredReceipt::run))
                    .contains(later.bulk().list().get(0).runId());
            assertThat(larkmoor.getCollection("vacancy_bulk_record").countDocuments())
                    .as("cut off at place %d", place)
                    .isEqualTo(11);
        });
        assertThat(begun.get()).isBetween(2, places - 2);
    }

    private static void redeemInChunks(Vacancy vacancy, Redeeming redeeming) {
        Plan plan = vacancy.plan(READINGS.skippingBlocked(), By.program("nightly"));
        Engine.behind(vacancy).redeem(Approval.inChunks(plan), BulkOptions.defaults(), redeeming);
    }

    private static StoredReceipt redeem(Vacancy vacancy, Redeeming redeeming) {
        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);
        return Engine.behind(vacancy).redeem(Approval.of(plan), BulkOptions.defaults(), redeeming);
    }

    @Test
    void anErasureAsksForManyAtOnceAndNotForEachDocument() {
        told(THEN).delete(Selection.of("hive").key(1), ODILE);
        AtomicInteger asked = new AtomicInteger();
        History history = told(
                        around(MongoClient.class, server().client(), Set.of("find"), find -> asked.incrementAndGet()),
                        LATER)
                .history();
        asked.set(0);

        assertThat(history.erase("hive", "1", ODILE)).isEqualTo(605);

        assertThat(asked.get()).isLessThan(80);
    }

    @Test
    void anErasureThatIsCutOffAnywhereIsFinishedOrTakenBack() {
        AtomicInteger finished = new AtomicInteger();
        Runnable prepare = () -> {
            fewReadings();
            larkmoor.getCollection("photo")
                    .updateOne(new Document(), new Document("$set", new Document("reading", 99)));
            told(THEN).delete(Selection.of("hive").key(1), ODILE);
        };
        int places = cutOffAnywhere(prepare, cut -> told(cut, THEN).history().erase("hive", "1", ODILE), place -> {
            assertThat(told(THEN).history().verify(Optional.empty()).faults())
                    .as("in the middle at place %d", place)
                    .isEmpty();
            History history = told(LATER).history();
            Verification whole = history.verify(Optional.empty());

            assertThat(whole.faults()).as("cut off at place %d", place).isEmpty();
            assertThat(whole.erased()).as("cut off at place %d", place).isIn(0L, 13L);
            boolean done = whole.erased() > 0;
            finished.addAndGet(done ? 1 : 0);
            assertThat(history.runs(HistoryQuery.all()))
                    .as("cut off at place %d", place)
                    .hasSize(done ? 2 : 1);
            assertThat(history.entries(HistoryQuery.all().ofTable("hive").atMost(1)).stream()
                            .allMatch(entry -> entry.before().isEmpty()))
                    .as("cut off at place %d", place)
                    .isEqualTo(done);
        });
        assertThat(finished.get()).isBetween(2, places - 2);
    }

    @Test
    void aBulkRunThatIsCutOffAnywhereIsGoneOnWithAndCountsEachRecordOnce() {
        Map<String, List<String>> gone = afterAll();
        Runnable prepare = () -> {
            fewReadings();
            told(THEN).bulk().start(READINGS, By.program("nightly"), CHUNKS);
        };
        int places = cutOffAnywhere(prepare, cut -> work(told(cut, THEN)), place -> {
            BulkRun done = work(told(LATER));

            assertThat(done.state()).as("cut off at place %d", place).isEqualTo(BulkState.DONE);
            assertThat(List.of(done.done(), done.failed(), done.skipped(), done.deleted()))
                    .as("cut off at place %d", place)
                    .containsExactly(10L, 1L, 0L, 10L);
            assertThat(withoutBulk(dump(larkmoor)))
                    .as("cut off at place %d", place)
                    .isEqualTo(gone);
            assertThat(told(LATER).history().verify(Optional.empty()).faults()).isEmpty();
        });
        assertThat(places).isGreaterThan(10);
    }

    private static BulkRun work(Vacancy vacancy) {
        UUID run = vacancy.bulk().list().get(0).runId();
        return vacancy.bulk().work(run, CHUNKS, Exemption.none(), progress -> {});
    }

    private static final Selection READINGS = Selection.of("reading").allRecords();
    private static final BulkOptions CHUNKS = BulkOptions.defaults().chunk(4);

    /** Eleven readings, of which one is kept by a photo that shows it. */
    private void fewReadings() {
        larkmoor.drop();
        put(larkmoor, "hive", "{_id: 1}");
        put(larkmoor, "photo", "{_id: 'p1', hives: [1], reading: 3}");
        for (int id = 1; id <= 11; id++) {
            put(larkmoor, "reading", "{_id: " + id + ", hive: 1}");
        }
    }

    Map<String, List<String>> afterAll() {
        fewReadings();
        larkmoor.getCollection("reading").deleteMany(new Document("_id", new Document("$ne", 3)));
        return dump(larkmoor);
    }

    private static Map<String, List<String>> withoutBulk(Map<String, List<String>> dump) {
        dump.keySet().removeIf(name -> name.startsWith("vacancy_bulk_"));
        return dump;
    }

    /** All or nothing is done, and as many runs are told of as are done. */
    private void requireWholeAndTold(History history, int place, Map<String, List<String>> done, int runs) {
        Map<String, List<String>> now = dump(larkmoor);
        assertThat(now).as("cut off at place %d", place).isIn(before, after);
        assertThat(history.runs(HistoryQuery.all()))
                .as("cut off at place %d", place)
                .hasSize(now.equals(done) ? runs : runs - 1);
        assertThat(history.verify(Optional.empty()).faults())
                .as("cut off at place %d", place)
                .isEmpty();
    }

    private Vacancy told(Clock clock) {
        return told(server().client(), clock);
    }

    Vacancy told(MongoClient client, Clock clock) {
        return Documents.over(client, larkmoor.getName(), RULES.trail(Trail.defaults()), clock);
    }

    /** That a document can't come back any more is told outside if the erasure is done, and not if it isn't. */
    @Test
    void whatAnErasureTellsOutsideIsAPartOfIt() {
        AtomicInteger finished = new AtomicInteger();
        Runnable prepare = () -> {
            fewReadings();
            following(server().client(), THEN).delete(Selection.of("reading").key(1), ODILE);
        };
        int places =
                cutOffAnywhere(prepare, cut -> following(cut, THEN).history().erase("reading", "1", ODILE), place -> {
                    Vacancy later = following(server().client(), LATER);
                    boolean done = later.history().verify(Optional.empty()).erased() > 0;
                    finished.addAndGet(done ? 1 : 0);
                    List<FollowUpAction> told = later.followUps().list(10).stream()
                            .map(FollowUpMessage::action)
                            .toList();

                    assertThat(told)
                            .as("cut off at place %d", place)
                            .isEqualTo(
                                    done
                                            ? List.of(FollowUpAction.DELETED, FollowUpAction.PURGED)
                                            : List.of(FollowUpAction.DELETED));
                });
        assertThat(finished.get()).isBetween(2, places - 2);
    }

    private Vacancy following(MongoClient client, Clock clock) {
        RuleBook rules = RULES.trail(Trail.defaults()).followUp("reading", FollowUp.named("files"));
        return Documents.over(client, larkmoor.getName(), rules, clock);
    }

    private void refillAndTell() {
        refill();
        told(THEN);
    }

    /**
     * Cuts the same work off at each write, one after the other, until it comes to its end.
     *
     * @param prepare makes everything as it was
     * @param work works over a client whose line is dead from some write on
     * @param look looks what has become of it, given the place
     * @return how many places there were
     */
    private int cutOffAnywhere(Runnable prepare, Consumer<MongoClient> work, IntConsumer look) {
        int place = 0;
        boolean cutOff = true;
        while (cutOff) {
            place++;
            prepare.run();
            cutOff = isCutOff(work, interrupted(deadAfter(place)));
            look.accept(place);
        }
        return place;
    }

    private static boolean isCutOff(Consumer<MongoClient> work, MongoClient cut) {
        try {
            work.accept(cut);
            return false;
        } catch (VacancyException told) {
            assertThat(told.code()).isIn(FailureCode.OUTCOME_UNKNOWN, FailureCode.DATABASE);
            return true;
        } catch (MongoException dead) {
            return true;
        }
    }

    static IntConsumer deadAfter(int writes) {
        AtomicInteger left = new AtomicInteger(writes);
        return write -> {
            if (left.decrementAndGet() <= 0) {
                throw new MongoException("the line is dead");
            }
        };
    }

    @Test
    void whatTheServerRefusesTakesTheRunBack() {
        AtomicInteger bulks = new AtomicInteger();
        Vacancy vacancy = told(
                around(MongoClient.class, server().client(), Set.of("bulkWrite"), write -> {
                    if (bulks.incrementAndGet() == 2) {
                        throw new MongoBulkWriteException(
                                BulkWriteResult.unacknowledged(),
                                List.of(new BulkWriteError(121, "Document failed validation", new BsonDocument(), 0)),
                                null,
                                new ServerAddress(),
                                Set.of());
                    }
                }),
                THEN);

        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("Document failed validation");

        assertThat(dump(larkmoor)).isEqualTo(before);
        assertThat(vacancy.history().runs(HistoryQuery.all())).isEmpty();
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void aRunThatIsAtWorkIsLeftAlone() {
        Vacancy vacancy = over(interrupted(deadAfter(6)), THEN);
        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOf(VacancyException.class);
        Map<String, List<String>> half = dump(larkmoor);

        over(server().client(), THEN);

        assertThat(dump(larkmoor)).isEqualTo(half);
        assertThat(Documents.check(server().client(), larkmoor.getName(), RULES))
                .extracting(Finding::kind)
                .contains(Finding.Kind.CUT_OFF);
    }

    @Test
    void aDocumentThatChangesInTheMiddleTakesTheRunBack() {
        int place = 0;
        int taken = 0;
        boolean reached = true;
        while (reached) {
            place++;
            refill();
            int at = place;
            AtomicInteger writes = new AtomicInteger();
            Vacancy vacancy = over(
                    interrupted(write -> {
                        if (writes.incrementAndGet() == at) {
                            larkmoor.getCollection("hive")
                                    .updateOne(
                                            new Document("_id", 1),
                                            new Document("$set", new Document("label", "Aspen")));
                        }
                    }),
                    THEN);
            try {
                vacancy.delete(Selection.of("hive").key(1), ODILE);
            } catch (StalePlanException stale) {
                taken++;
                assertThat(dump(larkmoor).get("reading")).as("place %d", place).isEqualTo(before.get("reading"));
                assertThat(dump(larkmoor).get("photo")).as("place %d", place).isEqualTo(before.get("photo"));
                assertThat(dump(larkmoor).get("hive").toString()).contains("Aspen", "Birch");
                assertThat(dump(larkmoor)).containsOnlyKeys("hive", "photo", "reading");
            }
            reached = writes.get() >= at;
            assertThat(place > 1 || taken == 1)
                    .as("a change before all is written down is seen")
                    .isTrue();
        }
        assertThat(taken).isGreaterThan(3);
    }

    private static Map<String, List<String>> without(Map<String, List<String>> dump) {
        dump.keySet().removeIf(name -> name.startsWith("vacancy_"));
        return dump;
    }

    /** A client that does something before each command that writes. */
    MongoClient interrupted(IntConsumer before) {
        return around(MongoClient.class, server().client(), WRITES, before);
    }

    static <T> T around(Class<T> type, T real, Set<String> commands, IntConsumer before) {
        return type.cast(Proxy.newProxyInstance(
                type.getClassLoader(), new Class<?>[] {type}, (proxy, method, given) -> {
                    if (commands.contains(method.getName())) {
                        before.accept(0);
                    }
                    try {
                        Object answer = method.invoke(real, given);
                        return method.getReturnType().isInterface()
                                        && method.getReturnType()
                                                .getSimpleName()
                                                .matches("MongoDatabase|MongoCollection")
                                ? around(asInterface(method.getReturnType()), answer, commands, before)
                                : answer;
                    } catch (InvocationTargetException failure) {
                        throw failure.getCause();
                    }
                }));
    }

    @SuppressWarnings("unchecked")
    private static Class<Object> asInterface(Class<?> type) {
        return (Class<Object>) type;
    }
}
