package dev.vacancy.approvals;

import static dev.vacancy.approvals.Refusals.assertRefused;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Emptying;
import dev.vacancy.FailureCode;
import dev.vacancy.Limits;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
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

/** Whatever can be agreed to can be signed, sent away, agreed to by a colleague elsewhere, and carried out once. */
class AnyApprovalTravelsTest {
    private static final By ODILE = By.user("odile");
    private static final By UNA = By.user("una");
    private static final int SENDERS = 8;
    private static final ApprovalKeys KEYS = ApprovalKeys.signingWith("november", new byte[32]);
    private static final RuleBook TWO_PEOPLE = RuleBook.bySchema()
            .consent("hive", ConsentRule.atLeast(Consent.NONE).withColleague())
            .trail(Trail.defaults());
    private static final Selection FEN = Selection.of("hive").where(Criteria.parse("name like 'Fen%'"));

    private static Database larkmoor(Engine engine) {
        return engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(40))",
                        "insert into hive values (1, 'Bramble Three'), (2, 'Fen One'), (3, 'Fen Two')");
    }

    private static Vacancy vacancy(Database database, RuleBook rules) {
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules);
        Ddl.of(database.source(), Ddl.Part.APPROVALS).apply();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        return vacancy;
    }

    private static UUID deleted(Database database) {
        return Vacancy.over(database.source(), RuleBook.bySchema().trail(Trail.defaults()))
                .delete(Selection.of("hive").key(1), ODILE)
                .runId();
    }

    @OnEveryEngine
    void aRestoreIsAgreedToByAColleagueElsewhereAndDoneOnce(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy here = vacancy(database, TWO_PEOPLE);
        UUID run = deleted(database);
        Vacancy elsewhere = Vacancy.over(database.source(), TWO_PEOPLE);
        String alone = Approvals.of(here, KEYS).issue(here.history().planRestore(run, ODILE));
        String both =
                Approvals.of(elsewhere, KEYS).agree(alone, elsewhere.history().planRestore(run, UNA));
        Approvals approvals = Approvals.of(here, KEYS);

        assertRefused(() -> approvals.redeemRestore(alone, run, ODILE), FailureCode.NO_COLLEAGUE);
        assertThat(database.count("hive")).isEqualTo(2);
        Receipt first = approvals.redeemRestore(both, run, ODILE);
        Receipt second = approvals.redeemRestore(both, run, ODILE);

        assertThat(database.rows("select name from hive where hive_id = 1")).containsExactly("Bramble Three");
        assertThat(first.counts()).containsExactly(Map.entry("hive", 1L));
        assertThat(first.table()).isEqualTo("hive");
        assertThat(second.repeated()).isTrue();
        assertThat(second).usingRecursiveComparison().ignoringFields("repeated").isEqualTo(first);
        assertThat(here.history().runs(HistoryQuery.all().ofRun(first.runId())))
                .singleElement()
                .satisfies(told -> assertThat(told.colleague()).contains("una"));
    }

    @OnEveryEngine
    void anApprovalOfOneRestoreIsNoneOfAnother(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema().trail(Trail.defaults()));
        UUID bramble = deleted(database);
        UUID fen = vacancy.delete(Selection.of("hive").key(2), ODILE).runId();
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.history().planRestore(bramble, ODILE));

        assertRefused(() -> approvals.redeemRestore(token, fen, ODILE), FailureCode.APPROVAL_OF_ANOTHER);
        assertRefused(() -> approvals.redeem(token, FEN, ODILE, "yes"), FailureCode.APPROVAL_OF_ANOTHER);
        assertRefused(() -> approvals.redeemRestore(token, bramble, UNA), FailureCode.APPROVAL_OF_ANOTHER);

        assertThat(database.count("hive")).isEqualTo(1);
    }

    @OnEveryEngine
    void aDeletionInChunksBeginsOnceAndIsWorkedOnAnywhere(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema());
        Approvals approvals =
                Approvals.of(vacancy, KEYS).with(BulkOptions.defaults().named("the Fen hives"));
        String token = approvals.issue(Question.aboutChunks(vacancy.plan(FEN, ODILE)));

        Receipt begun = approvals.redeem(token, FEN, ODILE, "yes");
        assertThat(database.count("hive")).isEqualTo(3);
        Vacancy.over(database.source())
                .bulk()
                .work(begun.runId(), BulkOptions.defaults(), Exemption.none(), progress -> {});
        Receipt again = approvals.redeem(token, FEN, ODILE, "yes");

        assertThat(database.rows("select name from hive")).containsExactly("Bramble Three");
        assertThat(again.runId()).isEqualTo(begun.runId());
        assertThat(again.repeated()).isTrue();
        assertThat(vacancy.bulk().list()).singleElement().satisfies(run -> {
            assertThat(run.runId()).isEqualTo(begun.runId());
            assertThat(run.name()).isEqualTo("the Fen hives");
        });
    }

    /** The way is part of what is signed: an approval to erase takes the content in the trail as well. */
    @OnEveryEngine
    void theWayInWhichItIsDoneTravelsToo(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema().trail(Trail.defaults()));
        Selection hive = Selection.of("hive").key(2).hard();
        Approvals approvals = Approvals.of(vacancy, KEYS);

        Receipt erased =
                approvals.redeem(approvals.issue(Question.aboutErasing(vacancy.plan(hive, ODILE))), hive, ODILE, "yes");

        assertThat(erased.counts()).containsExactly(Map.entry("hive", 1L));
        assertThat(database.rows(
                        "select count(*) from vacancy_trail_entry where content is not null and action <> 'erased'"))
                .containsExactly("0");
    }

    @OnEveryEngine
    void aTableIsEmptiedByTheNumberThatWasTyped(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema());
        Emptying all = Emptying.of("hive");
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String token = approvals.issue(vacancy.plan(all, ODILE));

        assertRefused(() -> approvals.redeem(token, all, ODILE, "yes"), FailureCode.NOT_AGREED);
        Receipt receipt = approvals.redeem(token, all, ODILE, "3");

        assertThat(database.count("hive")).isZero();
        assertThat(receipt.counts()).containsExactly(Map.entry("hive", 3L));
    }

    @OnEveryEngine
    void whatTheTrailHoldsIsErasedAsItWasShown(Engine engine) {
        Database database = larkmoor(engine);
        RuleBook typed = RuleBook.bySchema()
                .trail(Trail.defaults())
                .consent("hive", ConsentRule.atLeast(Consent.LABEL).withColleague());
        Vacancy vacancy = vacancy(database, typed);
        deleted(database);
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String alone = approvals.issue(vacancy.history().planErasure("hive", "1", ODILE));
        String both = approvals.agree(alone, vacancy.history().planErasure("hive", "1", UNA));

        assertRefused(() -> vacancy.history().erase("hive", "1", ODILE), FailureCode.NOT_AGREED);
        assertRefused(() -> approvals.redeemErasure(both, "hive", "1", ODILE, "yes"), FailureCode.NOT_AGREED);
        Receipt receipt = approvals.redeemErasure(both, "hive", "1", ODILE, "1");

        assertThat(receipt.counts()).containsExactly(Map.entry("hive", 1L));
        assertThat(vacancy.history().entries(HistoryQuery.all().ofRecord("hive", "1")))
                .hasSize(2)
                .allSatisfy(entry -> assertThat(entry.before()).isEmpty());
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
    }

    /** The record has come back and gone again meanwhile, so that more of it would be erased than was shown. */
    @OnEveryEngine
    void moreThanWasShownIsNotErased(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema().trail(Trail.defaults()));
        deleted(database);
        Approval approval = Question.about(vacancy.history().planErasure("hive", "1", ODILE))
                .yes();
        database.run("insert into hive values (1, 'Bramble again')");

        assertRefused(() -> vacancy.history().erase(approval), FailureCode.RUN_STATE);
        vacancy.delete(Selection.of("hive").key(1), ODILE);

        assertThatThrownBy(() -> vacancy.history().erase(approval))
                .isInstanceOfSatisfying(
                        StalePlanException.class,
                        stale -> assertThat(stale.differences())
                                .isEqualTo(List.of("2 entries of the trail instead of 1")));
        assertThat(vacancy.history().planErasure("hive", "1", ODILE).entries()).isEqualTo(2);
    }

    /** A bulk run that is begun, and a restore, each of them sent by many at once. */
    @OnEveryEngine
    void ofManyWhoSendItAtOnceOneDoesIt(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        Vacancy vacancy = vacancy(database, RuleBook.bySchema().trail(Trail.defaults()))
                .withLimits(Limits.defaults().lockWait(Duration.ofSeconds(20)));
        UUID run = deleted(database);
        Approvals approvals = Approvals.of(vacancy, KEYS);
        String restore = approvals.issue(vacancy.history().planRestore(run, ODILE));
        String chunks = approvals.issue(Question.aboutChunks(vacancy.plan(FEN, ODILE)));

        List<Receipt> restored = atOnce(() -> approvals.redeemRestore(restore, run, ODILE));
        List<Receipt> begun = atOnce(() -> approvals.redeem(chunks, FEN, ODILE, "yes"));

        assertThat(restored)
                .extracting(Receipt::runId)
                .containsOnly(restored.get(0).runId());
        assertThat(restored.stream().filter(receipt -> !receipt.repeated())).hasSize(1);
        assertThat(database.rows("select name from hive where hive_id = 1")).containsExactly("Bramble Three");
        assertThat(begun).extracting(Receipt::runId).containsOnly(begun.get(0).runId());
        assertThat(vacancy.bulk().list()).hasSize(1);
    }

    private static List<Receipt> atOnce(Callable<Receipt> sending) throws Exception {
        ExecutorService senders = Executors.newFixedThreadPool(SENDERS);
        try {
            List<Receipt> receipts = new ArrayList<>();
            for (Future<Receipt> receipt : senders.invokeAll(Collections.nCopies(SENDERS, sending))) {
                receipts.add(receipt.get());
            }
            return receipts;
        } finally {
            senders.shutdown();
        }
    }
}
