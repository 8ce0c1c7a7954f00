package dev.vacancy.approvals;

import static dev.vacancy.approvals.Refusals.assertRefused;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.PlainHeader;
import com.nimbusds.jose.crypto.MACSigner;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.PlainJWT;
import com.nimbusds.jwt.SignedJWT;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Emptying;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.Test;

/** An approval can be sent away and come back; it is redeemed once, by whom and for what it was issued. */
class TravellingApprovalTest {
    private static final By ODILE = By.user("odile");
    private static final By UNA = By.user("una");
    private static final byte[] SECRET = "a made-up secret of 32 bytes, yes".getBytes(StandardCharsets.UTF_8);
    private static final byte[] OTHER = "another made-up secret of 32 bytes".getBytes(StandardCharsets.UTF_8);
    private static final ApprovalKeys KEYS = ApprovalKeys.signingWith("november", SECRET);
    private static final Selection HIVE = Selection.of("hive").key(1);
    private static final int ROUNDS = 12;
    private static final Instant NOON = Instant.parse("2026-11-25T12:00:00Z");

    private static Database larkmoor(Engine engine) {
        return engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(40))",
                        "create table inspection (inspection_id integer primary key, hive_id integer not null,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "insert into hive values (1, 'Bramble Three'), (2, 'Larkmoor')",
                        "insert into inspection values (10, 1), (11, 1), (12, 2)");
    }

    private static Vacancy vacancy(Database database, RuleBook book) {
        Ddl.of(database.source(), book).apply();
        Vacancy vacancy = Vacancy.over(database.source(), book);
        Ddl.of(database.source(), Ddl.Part.APPROVALS).apply();
        return vacancy;
    }

    @OnEveryEngine
    void whatComesBackIsRunOnceAndToldTwice(Engine engine) {
        Database database = larkmoor(engine);
        Approvals approvals = Approvals.of(vacancy(database, RuleBook.bySchema()), KEYS);
        Vacancy elsewhere = Vacancy.over(database.source());
        String token = approvals.issue(elsewhere.plan(HIVE, ODILE));

        Receipt first = Approvals.of(elsewhere, KEYS).redeem(token, HIVE, ODILE, null);
        database.run("insert into hive values (1, 'Bramble again')");
        Receipt second = approvals.redeem(token, HIVE, ODILE, null);

        assertThat(first.counts()).containsOnly(Map.entry("hive", 1L), Map.entry("inspection", 2L));
        assertThat(first.repeated()).isFalse();
        assertThat(second.repeated()).isTrue();
        assertThat(second.runId()).isEqualTo(first.runId());
        assertThat(second.counts()).isEqualTo(first.counts());
        assertThat(database.count("hive")).isEqualTo(2);
    }

    /** What is long past is forgotten, and whoever redeems another one just now is in nobody's way. */
    @OnEveryEngine
    void oldOnesAreForgottenBesideSomebodyWhoIsRedeeming(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema());
        database.run("insert into vacancy_redeemed (approval_id, expires_at) values ('old', '2025-11-25T12:00:00Z')");
        String token = Approvals.of(vacancy, KEYS).issue(vacancy.plan(HIVE, ODILE));
        Receipt receipt;
        try (Connection other = database.connect()) {
            other.setAutoCommit(false);
            if (engine != Engine.SQLITE) {
                other.createStatement()
                        .execute("insert into vacancy_redeemed (approval_id, expires_at) values ('0', '2126')");
            }
            receipt = Approvals.of(vacancy, KEYS).redeem(token, HIVE, ODILE, null);
            other.rollback();
        }

        assertThat(receipt.repeated()).isFalse();
        assertThat(database.rows("select approval_id from vacancy_redeemed"))
                .hasSize(1)
                .doesNotContain("old");
    }

    @OnEveryEngine
    void ofManyWhoSendTheSameAtOnceOneDeletesAndAllAreToldTheSame(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema().trail(Trail.defaults()));
        ExecutorService threads = Executors.newFixedThreadPool(8);

        for (int hive = 100; hive < 100 + ROUNDS; hive++) {
            database.run("insert into hive values (" + hive + ", 'Larkmoor')");
            Selection selection = Selection.of("hive").key(hive).expecting(1);
            String token = Approvals.of(vacancy, KEYS).issue(vacancy.plan(selection, ODILE));
            Callable<Receipt> send = () -> Approvals.of(vacancy, KEYS).redeem(token, selection, ODILE, null);
            List<Receipt> receipts = new ArrayList<>();
            for (Future<Receipt> sent : threads.invokeAll(Collections.nCopies(16, send))) {
                receipts.add(sent.get());
            }

            assertThat(receipts)
                    .extracting(Receipt::runId)
                    .containsOnly(receipts.get(0).runId());
            assertThat(receipts).filteredOn(receipt -> !receipt.repeated()).hasSize(1);
        }
        threads.shutdown();

        assertThat(vacancy.history().runs(HistoryQuery.all())).hasSize(ROUNDS);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void whatChangedMeanwhileIsToldAndTheApprovalStaysGood(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema());
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.plan(HIVE, ODILE));
        database.run("insert into inspection values (13, 1)");

        assertThatThrownBy(() -> approvals.redeem(token, HIVE, ODILE, null))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("1 more of inspection");
        database.run("delete from inspection where inspection_id = 13");

        assertThat(approvals.redeem(token, HIVE, ODILE, null).counts()).containsEntry("inspection", 2L);
    }

    /** What is redeemed is written in the transaction of the run: when that ends badly, nothing was redeemed. */
    @OnEveryEngine
    void inATransactionThatIsRolledBackNothingIsRedeemed(Engine engine) throws SQLException {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema());
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.plan(HIVE, ODILE));

        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Approvals joined = Approvals.of(vacancy.joining(connection), KEYS);
            assertThat(joined.redeem(token, HIVE, ODILE, null).repeated()).isFalse();
            assertThat(joined.redeem(token, HIVE, ODILE, null).repeated()).isTrue();
            connection.rollback();
        }

        assertThat(database.count("hive")).isEqualTo(2);
        assertThat(approvals.redeem(token, HIVE, ODILE, null).repeated()).isFalse();
        assertThat(database.count("hive")).isEqualTo(1);
    }

    @Test
    void itIsRedeemedForNobodyElseAndNothingElse() {
        Database database = larkmoor(Engine.H2);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema());
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.plan(HIVE, ODILE));

        assertRefused(() -> approvals.redeem(token, HIVE, UNA, null), FailureCode.APPROVAL_OF_ANOTHER);
        List.of(
                        Selection.of("hive").key(2),
                        Selection.of("inspection").key(1),
                        Selection.of("hive").keys(List.of(1, 2)),
                        Selection.of("hive").where(Criteria.parse("hive_id = 1")),
                        HIVE.hard(),
                        HIVE.expecting(1),
                        HIVE.skippingBlocked())
                .forEach(other -> assertRefused(
                        () -> approvals.redeem(token, other, ODILE, null), FailureCode.APPROVAL_OF_ANOTHER));

        assertThat(database.count("hive")).isEqualTo(2);
        assertThat(approvals
                        .redeem(token, Selection.of("HIVE").key("1"), ODILE, null)
                        .repeated())
                .isFalse();
    }

    @Test
    void whatWeDidNotSignIsRefused() throws Exception {
        Database database = larkmoor(Engine.H2);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema());
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.plan(HIVE, ODILE));
        JWTClaimsSet claims = SignedJWT.parse(token).getJWTClaimsSet();
        SignedJWT byAnother = new SignedJWT(
                new JWSHeader.Builder(JWSAlgorithm.HS256).keyID("november").build(), claims);
        byAnother.sign(new MACSigner(OTHER));
        SignedJWT forOthers = new SignedJWT(
                new JWSHeader.Builder(JWSAlgorithm.HS256).keyID("november").build(),
                new JWTClaimsSet.Builder(claims).audience("session").build());
        forOthers.sign(new MACSigner(SECRET));
        SignedJWT longer = new SignedJWT(
                new JWSHeader.Builder(JWSAlgorithm.HS384).keyID("november").build(), claims);
        longer.sign(new MACSigner(
                "a made-up secret of 48 bytes, with more to come".repeat(2).getBytes(StandardCharsets.UTF_8)));
        String[] parts = token.split("\\.", -1);
        int middle = parts[1].length() / 2;
        String changed = parts[1].substring(0, middle)
                + (parts[1].charAt(middle) == 'A' ? 'B' : 'A')
                + parts[1].substring(middle + 1);

        List<String> forged = new ArrayList<>(List.of(
                "",
                "yes",
                token.substring(0, token.length() - 2),
                parts[0] + "." + changed + "." + parts[2],
                byAnother.serialize(),
                forOthers.serialize(),
                longer.serialize(),
                new PlainJWT(new PlainHeader(), claims).serialize(),
                parts[0] + "." + parts[1] + "."));
        forged.add(null);

        forged.forEach(
                text -> assertRefused(() -> approvals.redeem(text, HIVE, ODILE, null), FailureCode.APPROVAL_FORGED));
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @Test
    void itHoldsForSomeTimeAndKeysCanBeChangedMeanwhile() {
        Database database = larkmoor(Engine.H2);
        vacancy(database, RuleBook.bySchema());
        Vacancy noon = Vacancy.over(database.source(), RuleBook.bySchema(), Clock.fixed(NOON, ZoneOffset.UTC));
        Vacancy later = Vacancy.over(
                database.source(), RuleBook.bySchema(), Clock.fixed(NOON.plus(Duration.ofMinutes(5)), ZoneOffset.UTC));
        ApprovalKeys december = ApprovalKeys.signingWith("december", OTHER).verifyingToo("november", SECRET);
        String shortly = Approvals.of(noon, KEYS.lasting(Duration.ofMinutes(5))).issue(noon.plan(HIVE, ODILE));
        String longer = Approvals.of(noon, KEYS).issue(noon.plan(HIVE, ODILE));

        assertRefused(
                () -> Approvals.of(later, december).redeem(shortly, HIVE, ODILE, null), FailureCode.APPROVAL_EXPIRED);
        assertRefused(
                () -> Approvals.of(later, ApprovalKeys.signingWith("december", OTHER))
                        .redeem(longer, HIVE, ODILE, null),
                FailureCode.APPROVAL_FORGED);
        assertThat(Approvals.of(later, december)
                        .redeem(longer, HIVE, ODILE, null)
                        .repeated())
                .isFalse();
    }

    @Test
    void whereTheLabelIsToBeTypedSendingItIsTooLittle() {
        Database database = larkmoor(Engine.H2);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema().consent("hive", ConsentRule.atLeast(Consent.LABEL)));
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.plan(HIVE, ODILE));

        assertRefused(() -> approvals.redeem(token, HIVE, ODILE, null), FailureCode.NOT_AGREED);
        assertRefused(() -> approvals.redeem(token, HIVE, ODILE, "yes"), FailureCode.NOT_AGREED);

        assertThat(approvals.redeem(token, HIVE, ODILE, "Bramble Three").counts())
                .containsEntry("hive", 1L);
    }

    @OnEveryEngine
    void aSecondPairOfEyesLooksWhereTheRulesWantIt(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(
                database,
                RuleBook.bySchema()
                        .consent("inspection", ConsentRule.atLeast(Consent.YES).withColleague())
                        .trail(Trail.defaults()));
        Approvals approvals = Approvals.of(vacancy, KEYS);
        Plan plan = vacancy.plan(HIVE, ODILE.because("colony lost"));
        String token = approvals.issue(plan);

        assertThat(plan.colleague()).isTrue();
        assertRefused(() -> vacancy.run(Approval.of(plan)), FailureCode.NOT_AGREED);
        assertRefused(() -> approvals.redeem(token, HIVE, ODILE, null), FailureCode.NO_COLLEAGUE);
        assertRefused(() -> approvals.agree(token, HIVE, ODILE), FailureCode.NOT_AGREED);
        String both = approvals.agree(token, HIVE, UNA);
        assertRefused(() -> approvals.redeem(both, HIVE, UNA, null), FailureCode.APPROVAL_OF_ANOTHER);
        approvals.redeem(both, HIVE, ODILE.because("colony lost"), null);

        assertThat(database.count("hive")).isEqualTo(1);
        assertThat(vacancy.history().runs(HistoryQuery.all())).singleElement().satisfies(run -> {
            assertThat(run.by()).isEqualTo(ODILE.because("colony lost"));
            assertThat(run.colleague()).contains("una");
        });
    }

    @Test
    void aColleagueAgreesToWhatTheyHaveSeenAndMayDo() {
        Database database = larkmoor(Engine.H2);
        Vacancy vacancy = vacancy(
                database,
                RuleBook.bySchema()
                        .consent("hive", ConsentRule.atLeast(Consent.YES).withColleague()));
        String token = Approvals.of(vacancy, KEYS).issue(vacancy.plan(HIVE, ODILE));
        Permissions looking = (by, act, table) -> act == Permissions.Action.PREVIEW;

        assertRefused(
                () -> Approvals.of(vacancy.actingFor(UNA, looking), KEYS).agree(token, HIVE, UNA),
                FailureCode.FORBIDDEN);
        database.run("insert into inspection values (13, 1)");
        assertThatThrownBy(() -> Approvals.of(vacancy, KEYS).agree(token, HIVE, UNA))
                .isInstanceOf(StalePlanException.class);
    }

    @Test
    void bulkRunsWantTheSecondPairOfEyesToo() {
        Database database = larkmoor(Engine.H2);
        Vacancy vacancy = vacancy(
                database,
                RuleBook.bySchema()
                        .consent("hive", ConsentRule.atLeast(Consent.YES).withColleague()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        Approval approval = Question.aboutChunks(vacancy.plan(HIVE, ODILE)).yes();

        assertRefused(() -> vacancy.bulk().start(approval, BulkOptions.defaults()), FailureCode.NO_COLLEAGUE);
        assertRefused(() -> approval.agreedBy(ODILE), FailureCode.NOT_AGREED);

        assertThat(vacancy.bulk()
                        .start(approval.agreedBy(UNA), BulkOptions.defaults())
                        .records())
                .isEqualTo(1);
    }

    /** Another spelling of one's own name is no colleague, and emptying the table is no way round one. */
    @Test
    void thereIsNoWayRoundTheSecondPairOfEyes() {
        Database database = larkmoor(Engine.H2);
        Vacancy vacancy = vacancy(
                database,
                RuleBook.bySchema()
                        .consent("inspection", ConsentRule.atLeast(Consent.YES).withColleague())
                        .trail(Trail.defaults()));
        String token = Approvals.of(vacancy, KEYS).issue(vacancy.plan(HIVE, ODILE));
        Question question = Question.about(vacancy.plan(Emptying.of("inspection"), ODILE));
        Approval emptying = question.answer(question.typed().orElseThrow()).orElseThrow();

        assertRefused(() -> Approvals.of(vacancy, KEYS).agree(token, HIVE, By.user(" Odile ")), FailureCode.NOT_AGREED);
        assertRefused(() -> Approval.of(vacancy.plan(HIVE, ODILE)).agreedBy(By.user("ODILE")), FailureCode.NOT_AGREED);
        assertRefused(() -> vacancy.run(emptying), FailureCode.NO_COLLEAGUE);
        assertRefused(() -> emptying.agreedBy(ODILE), FailureCode.NOT_AGREED);
        assertRefused(
                () -> vacancy.erase(Approval.ofErasing(vacancy.plan(HIVE.hard(), ODILE))), FailureCode.NOT_AGREED);

        vacancy.run(emptying.agreedBy(UNA));
        assertThat(database.count("inspection")).isZero();
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .singleElement()
                .satisfies(run -> assertThat(run.colleague()).contains("una"));
    }

    @Test
    void aMissingTableIsToldBeforeAnythingIsDone() {
        Database database = larkmoor(Engine.H2);
        Vacancy vacancy = Vacancy.over(database.source());
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.plan(HIVE, ODILE));

        assertRefused(() -> approvals.redeem(token, HIVE, ODILE, null), FailureCode.NO_APPROVAL_TABLE);
        assertThat(database.count("hive")).isEqualTo(2);
        assertThat(Ddl.of(database.source(), Ddl.Part.APPROVALS).apply()).isPositive();
        assertThat(Ddl.of(database.source(), Ddl.Part.APPROVALS).apply()).isZero();
    }

    @Test
    void keysThatCanBeGuessedAreRefused() {
        assertThatThrownBy(() -> ApprovalKeys.signingWith("short", new byte[31]))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("31 bytes");
        assertThatThrownBy(() -> KEYS.verifyingToo("november", OTHER)).hasMessageContaining("two keys called november");
        assertThat(KEYS.toString()).doesNotContain("secret");
    }
}
