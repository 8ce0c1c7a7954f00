package dev.vacancy.approvals;

import static dev.vacancy.approvals.Refusals.assertRefused;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import com.mongodb.client.MongoDatabase;
import de.bwaldvogel.mongo.MongoServer;
import de.bwaldvogel.mongo.backend.memory.MemoryBackend;
import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.FailureCode;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.documents.Documents;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.bson.Document;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** An approval of what becomes of documents travels as any other does, and is redeemed once. */
class ApprovalsOfDocumentsTest {
    private static final By ODILE = By.user("odile");
    private static final By UNA = By.user("una");
    private static final Instant NOON = Instant.parse("2026-11-25T12:00:00Z");
    private static final ApprovalKeys KEYS =
            ApprovalKeys.signingWith("november", "a made-up secret of 32 bytes, yes".getBytes(StandardCharsets.UTF_8));
    private static final Selection HIVE = Selection.of("hive").key(1);
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .trail(Trail.defaults());

    private final MongoServer server = new MongoServer(new MemoryBackend());
    private final MongoClient client = MongoClients.create(server.bindAndGetConnectionString());
    private final MongoDatabase larkmoor = client.getDatabase("larkmoor");

    @BeforeEach
    void fill() {
        larkmoor.getCollection("hive")
                .insertMany(List.of(
                        new Document("_id", 1).append("label", "Alder"),
                        new Document("_id", 2).append("label", "Birch")));
        for (int id = 1; id <= 40; id++) {
            larkmoor.getCollection("reading").insertOne(new Document("_id", id).append("hive", id % 2 == 0 ? 2 : 1));
        }
    }

    @AfterEach
    void stop() {
        client.close();
        server.shutdownNow();
    }

    private Vacancy vacancy() {
        return over(RULES, Clock.fixed(NOON, ZoneOffset.UTC));
    }

    private Vacancy over(RuleBook rules, Clock clock) {
        return Documents.over(client, "larkmoor", rules, clock);
    }

    private long count(String collection) {
        return larkmoor.getCollection(collection).countDocuments();
    }

    @Test
    void itIsRedeemedOnceAndTheReceiptIsTheSame() {
        Approvals approvals = Approvals.of(vacancy(), KEYS);
        String token = approvals.issue(vacancy().plan(HIVE, ODILE));

        Receipt first = Approvals.of(vacancy(), KEYS).redeem(token, HIVE, ODILE, null);
        Receipt second = Approvals.of(vacancy(), KEYS).redeem(token, HIVE, ODILE, null);

        assertThat(first.counts()).isEqualTo(Map.of("hive", 1L, "reading", 20L));
        assertThat(first.repeated()).isFalse();
        assertThat(second)
                .isEqualTo(new Receipt(
                        first.runId(),
                        first.table(),
                        first.at(),
                        first.counts(),
                        first.marked(),
                        first.changed(),
                        first.mode(),
                        true));
        assertThat(count("hive")).isEqualTo(1);
        assertThat(vacancy().history().runs(HistoryQuery.all()))
                .singleElement()
                .satisfies(run -> assertThat(run.runId()).isEqualTo(first.runId()));
    }

    @Test
    void ofManyWhoSendItOneIsFirstAndAllAreToldTheSame() throws Exception {
        String token = Approvals.of(vacancy(), KEYS).issue(vacancy().plan(HIVE, ODILE));
        ExecutorService pool = Executors.newFixedThreadPool(6);
        List<Future<Receipt>> sent = new ArrayList<>();
        Callable<Receipt> send = () -> Approvals.of(vacancy(), KEYS).redeem(token, HIVE, ODILE, null);
        for (int i = 0; i < 6; i++) {
            sent.add(pool.submit(send));
        }
        List<Receipt> receipts = new ArrayList<>();
        for (Future<Receipt> each : sent) {
            receipts.add(each.get());
        }
        pool.shutdown();

        assertThat(receipts)
                .extracting(Receipt::runId)
                .containsOnly(receipts.get(0).runId());
        assertThat(receipts).filteredOn(receipt -> !receipt.repeated()).hasSize(1);
        assertThat(vacancy().history().runs(HistoryQuery.all())).hasSize(1);
    }

    @Test
    void whatHasChangedSinceGivesTheApprovalBack() {
        Approvals approvals = Approvals.of(vacancy(), KEYS);
        String token = approvals.issue(vacancy().plan(HIVE, ODILE));
        larkmoor.getCollection("reading").insertOne(new Document("_id", 99).append("hive", 1));

        assertThatThrownBy(() -> approvals.redeem(token, HIVE, ODILE, null)).isInstanceOf(StalePlanException.class);
        larkmoor.getCollection("reading").deleteOne(new Document("_id", 99));
        assertThat(approvals.redeem(token, HIVE, ODILE, null).counts()).containsEntry("reading", 20L);
    }

    @Test
    void aColleagueAgreesAndARestoreTravelsAsWell() {
        Vacancy vacancy = over(
                RULES.consent("hive", ConsentRule.atLeast(Consent.YES).withColleague()),
                Clock.fixed(NOON, ZoneOffset.UTC));
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.plan(HIVE, ODILE));
        assertRefused(() -> approvals.redeem(token, HIVE, ODILE, null), FailureCode.NO_COLLEAGUE);

        Receipt gone = approvals.redeem(approvals.agree(token, HIVE, UNA), HIVE, ODILE, null);
        String back = approvals.agree(
                approvals.issue(vacancy.history().planRestore(gone.runId(), ODILE)),
                vacancy.history().planRestore(gone.runId(), UNA));
        Receipt returned = approvals.redeemRestore(back, gone.runId(), ODILE);

        assertThat(returned.counts()).isEqualTo(Map.of("hive", 1L, "reading", 20L));
        assertThat(approvals.redeemRestore(back, gone.runId(), ODILE).repeated())
                .isTrue();
        assertThat(count("reading")).isEqualTo(40);
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .filteredOn(run -> run.runId().equals(gone.runId()))
                .singleElement()
                .satisfies(run -> assertThat(run.colleague()).contains("una"));
    }

    @Test
    void oneOfAnotherDatabaseOrPersonIsNothingHere() {
        String token = Approvals.of(vacancy(), KEYS).issue(vacancy().plan(HIVE, ODILE));
        Document hive = new Document("_id", 1).append("label", "Alder");
        client.getDatabase("hollin").getCollection("hive").insertOne(hive);
        client.getDatabase("hollin").getCollection("reading").insertOne(new Document("hive", 1));
        Vacancy other = Documents.over(client, "hollin", RULES, Clock.fixed(NOON, ZoneOffset.UTC));

        assertRefused(
                () -> Approvals.of(other, KEYS).redeem(token, HIVE, ODILE, null), FailureCode.APPROVAL_OF_ANOTHER);
        assertRefused(
                () -> Approvals.of(vacancy(), KEYS).redeem(token, HIVE, UNA, null), FailureCode.APPROVAL_OF_ANOTHER);
        assertThat(count("hive")).isEqualTo(2);
    }

    @Test
    void whoMayNotDeleteRedeemsNothing() {
        Permissions looking = (by, action, table) -> action != Permissions.Action.DELETE;
        String token = Approvals.of(vacancy(), KEYS).issue(vacancy().plan(HIVE, ODILE));

        assertRefused(
                () -> Approvals.of(vacancy().actingFor(ODILE, looking), KEYS).redeem(token, HIVE, ODILE, null),
                FailureCode.FORBIDDEN);
        assertThat(count("hive")).isEqualTo(2);
        assertThat(Approvals.of(vacancy(), KEYS)
                        .redeem(token, HIVE, ODILE, null)
                        .repeated())
                .isFalse();
    }

    @Test
    void whatNobodyCanSendAnyMoreIsForgotten() {
        Approvals approvals = Approvals.of(vacancy(), KEYS);
        approvals.redeem(approvals.issue(vacancy().plan(HIVE, ODILE)), HIVE, ODILE, null);
        assertThat(count("vacancy_redeemed")).isEqualTo(1);

        Vacancy later = over(RULES, Clock.fixed(NOON.plus(Duration.ofDays(3)), ZoneOffset.UTC));
        Selection birch = Selection.of("hive").key(2);
        Plan plan = later.plan(birch, ODILE);
        Approvals.of(later, KEYS).redeem(Approvals.of(later, KEYS).issue(plan), birch, ODILE, null);

        assertThat(count("vacancy_redeemed")).isEqualTo(1);
    }

    @Test
    void aBulkRunIsBegunOnce() {
        Approvals approvals = Approvals.of(vacancy(), KEYS);
        Selection all = Selection.of("reading").allRecords();
        String token = approvals.issue(Question.aboutChunks(vacancy().plan(all, ODILE)));

        Receipt first = approvals.redeem(token, all, ODILE, "40");
        Receipt second = approvals.redeem(token, all, ODILE, "40");

        assertThat(first.counts()).isEqualTo(Map.of("reading", 40L));
        assertThat(second.runId()).isEqualTo(first.runId());
        assertThat(second.repeated()).isTrue();
        assertThat(vacancy().bulk().list()).hasSize(1);
        assertThat(vacancy().bulk().work(first.runId()).done()).isEqualTo(40);
        assertThat(count("reading")).isZero();
    }

    @Test
    void anErasureTravels() {
        Approvals approvals = Approvals.of(vacancy(), KEYS);
        Selection hive = HIVE.hard();
        Question asked = Question.aboutErasing(vacancy().plan(hive, ODILE));
        String token = approvals.issue(asked);

        Receipt first = approvals.redeem(token, hive, ODILE, asked.typed().orElse("yes"));
        Receipt second = approvals.redeem(token, hive, ODILE, asked.typed().orElse("yes"));

        assertThat(first.counts()).isEqualTo(Map.of("hive", 1L, "reading", 20L));
        assertThat(second.runId()).isEqualTo(first.runId());
        assertThat(vacancy().history().verify(Optional.empty()).erased()).isEqualTo(21);

        Vacancy vacancy = vacancy();
        vacancy.delete(Selection.of("hive").key(2), ODILE);
        Question trail = Question.about(vacancy.history().planErasure("hive", "2", ODILE));
        String other = approvals.issue(trail);
        Receipt erased =
                approvals.redeemErasure(other, "hive", "2", ODILE, trail.typed().orElse("yes"));
        assertThat(erased.counts()).isEqualTo(Map.of("hive", 1L, "reading", 20L));
        assertThat(approvals.redeemErasure(other, "hive", "2", ODILE, null).repeated())
                .isTrue();
    }

    @Test
    void whatIsntOfferedOnDocumentsIsRefused() {
        Approvals approvals = Approvals.of(vacancy(), KEYS);
        String token = approvals.issue(vacancy().plan(HIVE, ODILE));

        assertRefused(() -> approvals.redeem(token, Emptying.of("hive"), ODILE, "2"), FailureCode.APPROVAL_OF_ANOTHER);
        assertRefused(() -> vacancy().plan(Emptying.of("hive"), ODILE), FailureCode.NOT_OFFERED);
        assertThat(count("hive")).isEqualTo(2);
    }
}
