package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.dump;
import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.JsonForm;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.wording.Wording;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.IntStream;
import org.bson.Document;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What transactions are used for, and what is said of it. */
class DocumentTransactionsTest {
    private static final TransactingBackend BACKEND = new TransactingBackend();
    private static final DocumentServer SERVER = DocumentServer.of(BACKEND);
    private static final String SEEN = "Others see it while it goes on.";
    private static final By ODILE = By.user("odile");
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .trail(Trail.defaults());

    private MongoDatabase larkmoor;
    private int committed;
    private int conflicts;

    @BeforeEach
    void fill() {
        larkmoor = filled(SERVER);
        committed = BACKEND.committed();
        conflicts = BACKEND.conflicts();
    }

    private static MongoDatabase filled(DocumentServer server) {
        MongoDatabase database = server.database();
        put(database, "hive", "{_id: 1, label: 'Alder'}", "{_id: 2, label: 'Birch'}");
        put(database, "reading", "{_id: 11, hive: 1}", "{_id: 12, hive: 1}", "{_id: 13, hive: 2}");
        return database;
    }

    private Vacancy vacancy() {
        return Documents.over(SERVER.client(), larkmoor.getName(), RULES);
    }

    private static Plan plan(Vacancy vacancy) {
        return vacancy.plan(Selection.of("hive").key(1), ODILE);
    }

    @Test
    void aRunThatATransactionHoldsIsSeenAtOnceOrNotAtAll() {
        Plan plan = plan(vacancy());
        assertThat(plan.transactional()).isTrue();
        assertThat(Question.about(plan).text()).doesNotContain(SEEN);

        vacancy().run(Approval.of(plan));

        assertThat(BACKEND.committed()).isEqualTo(committed + 1);
        assertThat(dump(larkmoor)).containsOnlyKeys("hive", "reading");
        assertThat(larkmoor.listCollectionNames()).doesNotContain("vacancy_intended_change");
        assertThat(vacancy().history().verify(Optional.empty()).entries()).isEqualTo(3);
    }

    @Test
    void whatNoTransactionHoldsIsToldByThePlanAndAsked() {
        MongoDatabase plain = filled(DocumentServer.PLAIN);
        Vacancy without = Documents.over(DocumentServer.PLAIN.client(), plain.getName(), RULES);
        Plan plan = plan(without);

        assertThat(plan.transactional()).isFalse();
        assertThat(JsonForm.of(plan)).containsEntry("transactional", false);
        assertThat(Question.about(plan).text()).endsWith(SEEN);
        assertThat(Question.about(plan).worded(Wording.of(Locale.GERMAN)).text())
                .endsWith("Andere sehen es, während es geschieht.");
        Outcome outcome = without.run(Approval.of(plan));
        RestorePlan back = without.history().planRestore(outcome.runId(), ODILE);
        assertThat(back.transactional()).isFalse();
        assertThat(Question.about(back).text()).endsWith(SEEN);
    }

    @Test
    void whatIsTooLargeForATransactionIsWrittenDown() {
        larkmoor.getCollection("reading")
                .insertMany(IntStream.range(100, 1_100)
                        .mapToObj(id -> new Document("_id", id).append("hive", 1))
                        .toList());
        Plan plan = plan(vacancy());
        assertThat(plan.transactional()).isFalse();

        Outcome outcome = vacancy().run(Approval.of(plan));

        assertThat(outcome.counts()).isEqualTo(Map.of("hive", 1L, "reading", 1_002L));
        assertThat(BACKEND.committed()).isEqualTo(committed);
    }

    @Test
    void aRestoreIsOneTransactionToo() {
        Map<String, List<String>> before = dump(larkmoor);
        Outcome outcome = vacancy().delete(Selection.of("hive").key(1), ODILE);

        RestorePlan plan = vacancy().history().planRestore(outcome.runId(), ODILE);
        assertThat(plan.transactional()).isTrue();
        vacancy().history().restore(Approval.of(plan));

        assertThat(dump(larkmoor)).isEqualTo(before);
        assertThat(BACKEND.committed()).isEqualTo(committed + 2);
    }

    @Test
    void aCommitThatIsntAnsweredIsAskedForAgain() {
        Plan plan = plan(vacancy());
        BACKEND.answer(TransactingBackend.Answer.UNANSWERED, 1);

        Outcome outcome = vacancy().run(Approval.of(plan));

        assertThat(outcome.counts()).isEqualTo(Map.of("hive", 1L, "reading", 2L));
        assertThat(BACKEND.committed()).isEqualTo(committed + 1);
        assertThat(vacancy().history().runs(HistoryQuery.all())).hasSize(1);
    }

    @Test
    void whoeverIsInTheWayIsWaitedFor() {
        BACKEND.answer(TransactingBackend.Answer.CONFLICT, 1);

        Outcome outcome = vacancy().delete(Selection.of("hive").key(1), ODILE);

        assertThat(outcome.counts()).isEqualTo(Map.of("hive", 1L, "reading", 2L));
        assertThat(BACKEND.conflicts()).isEqualTo(conflicts + 1);
        assertThat(vacancy().history().verify(Optional.empty()).entries()).isEqualTo(3);
    }

    @Test
    void whatAnotherRunHasMarkedIsItsOwn() {
        Plan plan = plan(vacancy());
        larkmoor.getCollection("reading")
                .updateOne(new Document("_id", 12), new Document("$set", new Document("vacancy_run", "another")));
        Map<String, List<String>> before = dump(larkmoor);

        assertThatThrownBy(() -> vacancy().run(Approval.of(plan))).isInstanceOf(StalePlanException.class);

        assertThat(dump(larkmoor)).isEqualTo(before);
        assertThat(BACKEND.committed()).isEqualTo(committed);
    }

    @Test
    void ofManyAtOnceEachRecordGoesOnce() throws Exception {
        larkmoor.getCollection("reading")
                .insertMany(IntStream.range(100, 160)
                        .mapToObj(id -> new Document("_id", id).append("hive", 1 + id % 2))
                        .toList());
        List<Future<Long>> gone = new ArrayList<>();
        ExecutorService several = Executors.newFixedThreadPool(6);
        try {
            for (int number = 0; number < 6; number++) {
                int from = 100 + number * 8;
                gone.add(several.submit(() -> deleted(from)));
            }
            long deleted = 0;
            for (Future<Long> one : gone) {
                deleted += one.get();
            }
            assertThat(63 - larkmoor.getCollection("reading").countDocuments()).isEqualTo(deleted);
            assertThat(vacancy().history().verify(Optional.empty()).entries()).isEqualTo(deleted);
            assertThat(vacancy().history().verify(Optional.empty()).faults()).isEmpty();
        } finally {
            several.shutdown();
        }
    }

    /** Twenty of the readings, eight of which somebody else wants as well. */
    private long deleted(int from) {
        try {
            Object[] keys = IntStream.range(from, from + 20).boxed().toArray();
            return vacancy()
                    .delete(Selection.of("reading").keys(List.of(keys)), ODILE)
                    .total();
        } catch (VacancyException beaten) {
            return 0;
        }
    }
}
