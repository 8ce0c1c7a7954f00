package dev.vacancy.documents.internal;

import static dev.vacancy.documents.DocumentServer.dump;
import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.MongoBulkWriteException;
import com.mongodb.MongoException;
import com.mongodb.MongoWriteException;
import com.mongodb.ServerAddress;
import com.mongodb.WriteError;
import com.mongodb.bulk.BulkWriteError;
import com.mongodb.bulk.BulkWriteResult;
import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.documents.DocumentServer;
import dev.vacancy.documents.Documents;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Finding;
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
import java.util.function.IntConsumer;
import org.bson.BsonDocument;
import org.bson.Document;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Runs that end in the middle, and documents that change in the middle of a run. */
class CutOffTest {
    private static final By ODILE = By.user("odile");
    private static final Instant NOW = Instant.parse("2026-06-01T09:00:00Z");
    private static final Clock THEN = Clock.fixed(NOW, ZoneOffset.UTC);
    private static final Clock LATER =
            Clock.fixed(NOW.plus(Intention.GIVEN_UP).plus(Duration.ofSeconds(1)), ZoneOffset.UTC);
    private static final Set<String> WRITES =
            Set.of("insertOne", "insertMany", "updateOne", "updateMany", "bulkWrite", "deleteMany", "deleteOne");

    private static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .link("photo.hives", "hive")
            .on("photo.hives", Clause.detach());

    private MongoDatabase larkmoor;
    private Map<String, List<String>> before;
    private Map<String, List<String>> after;

    @BeforeEach
    void fill() {
        larkmoor = DocumentServer.database();
        refill();
        before = dump(larkmoor);
        over(DocumentServer.client(), THEN).delete(Selection.of("hive").key(1), ODILE);
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

    private Vacancy over(MongoClient client, Clock clock) {
        return Documents.over(client, larkmoor.getName(), RULES, clock);
    }

    @Test
    void aRunThatIsCutOffAnywhereIsFinishedOrTakenBackByWhoeverComesNext() {
        int place = 0;
        int unknown = 0;
        boolean reached = true;
        while (reached) {
            place++;
            refill();
            Vacancy vacancy = over(interrupted(deadAfter(place)), THEN);
            try {
                vacancy.delete(Selection.of("hive").key(1), ODILE);
                reached = false;
            } catch (VacancyException cutOff) {
                unknown += cutOff.code() == FailureCode.OUTCOME_UNKNOWN ? 1 : 0;
                boolean changed = !without(dump(larkmoor)).equals(before);
                assertThat(changed && cutOff.code() != FailureCode.OUTCOME_UNKNOWN)
                        .as("place %d is told as unchanged", place)
                        .isFalse();
            }
            over(DocumentServer.client(), LATER);

            assertThat(dump(larkmoor)).as("cut off at place %d", place).isIn(before, after);
        }
        assertThat(place).isGreaterThan(10);
        assertThat(unknown).isGreaterThan(5);
    }

    @Test
    void aRunThatIsCutOffIsToldOnceOrNotAtAll() {
        int place = 0;
        boolean reached = true;
        while (reached) {
            place++;
            refill();
            told(THEN);
            Vacancy vacancy = told(interrupted(deadAfter(place)), THEN);
            try {
                vacancy.delete(Selection.of("hive").key(1), ODILE);
                reached = false;
            } catch (VacancyException cutOff) {
                assertThat(cutOff.code()).isIn(FailureCode.OUTCOME_UNKNOWN, FailureCode.DATABASE);
            }
            History history = told(LATER).history();

            requireWholeAndTold(history, place, after, 1);
            assertThat(history.verify(Optional.empty()).entries())
                    .isEqualTo(dump(larkmoor).equals(after) ? 605 : 0);
        }
        assertThat(place).isGreaterThan(15);
    }

    @Test
    void aRestoreThatIsCutOffAnywhereIsFinishedOrTakenBack() {
        int place = 0;
        boolean reached = true;
        while (reached) {
            place++;
            refill();
            UUID run = told(THEN).delete(Selection.of("hive").key(1), ODILE).runId();
            History cut = told(interrupted(deadAfter(place)), THEN).history();
            try {
                cut.restore(Approval.of(cut.planRestore(run, ODILE)));
                reached = false;
            } catch (VacancyException cutOff) {
                assertThat(cutOff.code()).isIn(FailureCode.OUTCOME_UNKNOWN, FailureCode.DATABASE);
            }
            History history = told(LATER).history();

            requireWholeAndTold(history, place, before, 2);
        }
        assertThat(place).isGreaterThan(10);
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
        return told(DocumentServer.client(), clock);
    }

    private Vacancy told(MongoClient client, Clock clock) {
        return Documents.over(client, larkmoor.getName(), RULES.trail(Trail.defaults()), clock);
    }

    private static IntConsumer deadAfter(int writes) {
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
                around(MongoClient.class, DocumentServer.client(), Set.of("bulkWrite"), write -> {
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
    void aMarkThatTheServerRefusesIsTold() {
        AtomicInteger marks = new AtomicInteger();
        Vacancy vacancy = told(
                around(MongoClient.class, DocumentServer.client(), Set.of("updateMany"), write -> {
                    if (marks.incrementAndGet() == 1) {
                        throw new MongoWriteException(
                                new WriteError(121, "Document failed validation", new BsonDocument()),
                                new ServerAddress(),
                                Set.of());
                    }
                }),
                THEN);

        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("Document failed validation");
        assertThat(dump(larkmoor)).isEqualTo(before);
    }

    @Test
    void whatCantBeTakenBackStaysWrittenDownAndIsTold() {
        Vacancy cut = over(interrupted(deadAfter(12)), THEN);
        assertThatThrownBy(() -> cut.delete(Selection.of("hive").key(1), ODILE)).isInstanceOf(VacancyException.class);
        Map<String, List<String>> half = dump(larkmoor);

        over(interrupted(deadAfter(3)), LATER);

        assertThat(dump(larkmoor)).containsKeys("vacancy_intention", "vacancy_intended_change");
        assertThat(half).containsKey("vacancy_intention");
        assertThat(Documents.check(DocumentServer.client(), larkmoor.getName(), RULES))
                .extracting(Finding::kind)
                .contains(Finding.Kind.CUT_OFF);
        over(DocumentServer.client(), Clock.offset(LATER, Intention.GIVEN_UP.plusSeconds(1)));
        assertThat(dump(larkmoor)).isIn(before, after);
    }

    @Test
    void aRunThatIsAtWorkIsLeftAlone() {
        Vacancy vacancy = over(interrupted(deadAfter(6)), THEN);
        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOf(VacancyException.class);
        Map<String, List<String>> half = dump(larkmoor);

        over(DocumentServer.client(), THEN);

        assertThat(dump(larkmoor)).isEqualTo(half);
        assertThat(Documents.check(DocumentServer.client(), larkmoor.getName(), RULES))
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
        assertThat(taken).isGreaterThan(5);
    }

    private static Map<String, List<String>> without(Map<String, List<String>> dump) {
        dump.keySet().removeIf(name -> name.startsWith("vacancy_"));
        return dump;
    }

    /** A client that does something before each command that writes. */
    private static MongoClient interrupted(IntConsumer before) {
        return around(MongoClient.class, DocumentServer.client(), WRITES, before);
    }

    private static <T> T around(Class<T> type, T real, Set<String> commands, IntConsumer before) {
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
