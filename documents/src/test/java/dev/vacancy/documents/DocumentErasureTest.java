package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.ErasureOutcome;
import dev.vacancy.FailureCode;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import dev.vacancy.history.Verification;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.bson.BsonDocument;
import org.bson.Document;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the trail tells of a document is erased, and its oldest runs are removed; what is left is whole. */
class DocumentErasureTest {
    /** Where the documents are. */
    DocumentServer server() {
        return DocumentServer.PLAIN;
    }

    private static final By ODILE = By.user("odile");
    private static final Instant JUNE = Instant.parse("2026-06-01T09:00:00Z");
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("loan.keeper", "keeper")
            .on("loan.keeper", Clause.cascade())
            .link("hive.keepers", "keeper")
            .on("hive.keepers", Clause.detach())
            .trail(Trail.defaults());

    private MongoDatabase larkmoor;

    @BeforeEach
    void fill() {
        larkmoor = server().database();
        put(larkmoor, "keeper", "{_id: 1, name: 'Ansel'}", "{_id: 2, name: 'Tam'}", "{_id: 'una', name: 'Una'}");
        put(
                larkmoor,
                "loan",
                "{_id: 11, keeper: 1, note: 'Ansel took it'}",
                "{_id: 12, keeper: 'una'}",
                "{_id: 13, keeper: 2}");
        put(larkmoor, "hive", "{_id: 21, keepers: [1, 2, 'una']}");
    }

    private Vacancy vacancy() {
        return at(JUNE);
    }

    private Vacancy at(Instant moment) {
        return Documents.over(server().client(), larkmoor.getName(), RULES, Clock.fixed(moment, ZoneOffset.UTC));
    }

    private static UUID delete(Vacancy vacancy, Object key) {
        return vacancy.delete(Selection.of("keeper").key(key), ODILE).runId();
    }

    private String trail() {
        StringBuilder text = new StringBuilder();
        for (String name : List.of("vacancy_trail_run", "vacancy_trail_entry")) {
            larkmoor.getCollection(name, BsonDocument.class).find().forEach(each -> text.append(each.toJson()));
        }
        return text.toString();
    }

    private static void requireIntact(Vacancy vacancy) {
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void allThatIsToldOfARecordIsErasedAndTheTrailIsWhole() {
        Vacancy vacancy = vacancy();
        UUID run = delete(vacancy, 1);
        delete(vacancy, 2);
        Verification.Head head = vacancy.history().verify(Optional.empty()).head();
        assertThat(trail()).contains("Ansel");

        ErasurePlan plan = vacancy.history().planErasure("keeper", "1", ODILE);
        long erased = vacancy.history()
                .erase(Question.about(plan)
                        .answer(Question.about(plan).typed().orElse("yes"))
                        .orElseThrow());

        assertThat(plan.counts()).isEqualTo(Map.of("hive", 1L, "keeper", 1L, "loan", 1L));
        assertThat(plan.isThere()).isFalse();
        assertThat(erased).isEqualTo(3);
        assertThat(trail()).doesNotContain("Ansel").contains("Tam");
        Verification whole = vacancy.history().verify(Optional.of(head));
        assertThat(whole.faults()).isEmpty();
        assertThat(whole.erased()).isEqualTo(3);
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .extracting(TrailRun::kind)
                .containsExactly("erasure", "deletion", "deletion");
        assertThat(vacancy.history().entries(HistoryQuery.all().ofRun(run)))
                .allSatisfy(entry -> assertThat(entry.before()).isEmpty());
        assertThat(vacancy.history().planRestore(run, ODILE).isEmpty()).isTrue();
        assertThat(larkmoor.getCollection("vacancy_intended_change").countDocuments())
                .isZero();
    }

    @Test
    void aKeyThatTellsOfTheRecordIsErasedWhereverItIsNamed() {
        Vacancy vacancy = vacancy();
        vacancy.delete(Selection.of("loan").key(12), ODILE);
        delete(vacancy, "una");
        assertThat(trail()).contains("una");

        vacancy.history().erase("keeper", "una", ODILE);

        assertThat(trail()).doesNotContain("una").doesNotContain("Una");
        requireIntact(vacancy);
        assertThat(vacancy.history().entries(HistoryQuery.all()))
                .filteredOn(entry -> entry.table().equals("keeper"))
                .extracting(TrailEntry::key)
                .doesNotContain("una");
    }

    @Test
    void aRecordThatIsThereGoesWithIt() {
        Vacancy vacancy = vacancy();
        Question asked =
                Question.aboutErasing(vacancy.plan(Selection.of("keeper").key(1).hard(), ODILE));

        ErasureOutcome outcome =
                vacancy.erase(asked.answer(asked.typed().orElse("yes")).orElseThrow());

        assertThat(outcome.outcome().counts()).isEqualTo(Map.of("keeper", 1L, "loan", 1L));
        assertThat(outcome.entries()).isEqualTo(3);
        assertThat(trail()).doesNotContain("Ansel");
        assertThat(larkmoor.getCollection("keeper").countDocuments()).isEqualTo(2);
        requireIntact(vacancy);
    }

    @Test
    void whatABulkRunTookIsErasedOfAllItsChunks() {
        Vacancy vacancy = vacancy();
        UUID run = vacancy.bulk()
                .start(Selection.of("keeper").allRecords(), By.program("nightly"), BulkOptions.defaults())
                .runId();
        vacancy.bulk().work(run, BulkOptions.defaults().chunk(1), Exemption.none(), told -> {});

        UUID named = vacancy.bulk()
                .start(
                        Selection.of("hive").where(Criteria.parse("_id = 21")),
                        By.program("nightly"),
                        BulkOptions.defaults())
                .runId();
        vacancy.bulk().work(named);

        vacancy.history().erase("keeper", "una", ODILE);

        assertThat(trail()).doesNotContain("Una").contains("Tam", "Ansel");
        requireIntact(vacancy);
        assertThat(vacancy.bulk().run(run).selection()).isEqualTo("(erased)");
        assertThat(vacancy.bulk().run(run).done()).isEqualTo(3);
        assertThat(vacancy.bulk().run(named).selection()).contains("_id = 21");
        assertThat(larkmoor.getCollection("vacancy_bulk_record")
                        .find()
                        .map(line -> line.get("key").toString()))
                .containsExactlyInAnyOrder("1", "2", "21");
    }

    @Test
    void aHoldKeepsWhatIsTold() {
        Vacancy vacancy = vacancy();
        UUID run = delete(vacancy, 1);
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
        UUID hold = vacancy.history().hold("loan", "keeper = 1", ODILE.because("inquiry"));

        assertThatThrownBy(() -> vacancy.history().erase("keeper", "1", ODILE))
                .hasMessageContaining("are held by odile");
        assertThat(trail()).contains("Ansel");

        vacancy.history().lift(hold, ODILE);
        delete(vacancy, 1);
        assertThat(vacancy.history().erase("keeper", "1", ODILE)).isGreaterThan(5);
        requireIntact(vacancy);
    }

    @Test
    void whatHasComeInSinceIsAnotherErasure() {
        Vacancy vacancy = vacancy();
        UUID run = delete(vacancy, 1);
        Approval approval = Approval.of(vacancy.history().planErasure("keeper", "1", ODILE));
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
        delete(vacancy, 1);

        assertThatThrownBy(() -> vacancy.history().erase(approval)).isInstanceOf(StalePlanException.class);
        assertThat(trail()).contains("Ansel");
        assertThatThrownBy(() -> vacancy.history()
                        .erase(Approval.of(vacancy.plan(Selection.of("keeper").key(2), ODILE))))
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refused -> assertThat(refused.code()).isEqualTo(FailureCode.APPROVAL_OF_ANOTHER));
    }

    @Test
    void whatIsErasedTwiceIsToldOnce() {
        Vacancy vacancy = vacancy();
        delete(vacancy, 1);
        vacancy.history().erase("keeper", "1", ODILE);

        assertThat(vacancy.history().erase("keeper", "1", ODILE)).isZero();
        requireIntact(vacancy);
    }

    @Test
    void theOldestRunsAreRemovedAndTheRestVerifies() {
        delete(at(JUNE), 1);
        delete(at(JUNE.plus(Duration.ofDays(1))), 2);
        Vacancy later = at(JUNE.plus(Duration.ofDays(100)));
        Verification.Head head = later.history().verify(Optional.empty()).head();
        delete(later, "una");

        long removed = later.history().prune(JUNE.plus(Duration.ofDays(50)), ODILE);

        assertThat(removed).isEqualTo(2);
        assertThat(trail()).doesNotContain("Ansel").doesNotContain("Tam").contains("Una");
        requireIntact(later);
        assertThat(later.history().verify(Optional.of(head)).faults())
                .singleElement()
                .asString()
                .contains("odile removed it");
        assertThat(later.history().runs(HistoryQuery.all()))
                .extracting(TrailRun::kind)
                .containsExactly("ageing", "deletion");
        assertThat(later.history().prune(JUNE.plus(Duration.ofDays(50)), ODILE)).isZero();
    }

    @Test
    void whatIsToldOfAHeldRecordStaysWithAllThatCameAfter() {
        Vacancy then = at(JUNE);
        UUID run = delete(then, 1);
        then.history().restore(Approval.of(then.history().planRestore(run, ODILE)));
        Vacancy later = at(JUNE.plus(Duration.ofDays(100)));
        later.history().hold("keeper", "_id = 1", ODILE.because("inquiry"));

        assertThat(later.history().prune(JUNE.plus(Duration.ofDays(50)), ODILE)).isZero();
        assertThat(trail()).contains("Ansel");
    }

    @Test
    void whatWasLeftOfAPruningThatWasCutOffIsRemovedByWhoeverComesNext() {
        delete(at(JUNE), 1);
        Document run = larkmoor.getCollection("vacancy_trail_run")
                .find(new Document("_id", 1L))
                .first();
        Vacancy later = at(JUNE.plus(Duration.ofDays(100)));
        later.history().prune(JUNE.plus(Duration.ofDays(50)), ODILE);
        larkmoor.getCollection("vacancy_trail_run").insertOne(run);

        Vacancy next = at(JUNE.plus(Duration.ofDays(101)));

        assertThat(larkmoor.getCollection("vacancy_trail_run").countDocuments(new Document("_id", 1L)))
                .isZero();
        requireIntact(next);
    }

    @Test
    void maskingIsntOffered() {
        History history = vacancy().history();

        assertThatThrownBy(() -> history.planMasking("Ansel", ODILE))
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refused -> assertThat(refused.code()).isEqualTo(FailureCode.NOT_OFFERED));
    }
}
