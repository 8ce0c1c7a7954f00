package dev.vacancy.clusters;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What is told, and what happens, where a node is lost. */
class GaleraLossTest extends OnGalera {
    /** How long the answer to a commit is waited for, in milliseconds: less than a silent node is silent. */
    private static final int IMPATIENCE = 250;

    @ParameterizedTest
    @ValueSource(ints = {2, 5, 8, 11, 13, 14, 15})
    void whereANodeIsLostInTheMiddleWhatIsToldIsTrue(int statement) {
        fill(3);
        Ddl.of(node(0), KEPT).apply();
        DataSource anyNode = cluster.source(database, "", 0, 1, 2);
        AtomicBoolean killed = new AtomicBoolean();
        AtomicBoolean armed = new AtomicBoolean();
        DataSource source = Interrupted.beforeStatement(statement, anyNode, armed::get, () -> {
            killed.set(true);
            cluster.kill(0);
        });
        Vacancy vacancy = Vacancy.over(source, KEPT);
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").keys(List.of(1, 2, 3)), NIGHTLY));
        armed.set(true);

        String told = told(() -> vacancy.run(approval));

        try {
            assertThat(killed).isTrue();
            assertTrue(told, 1);
        } finally {
            cluster.startNode(0);
            cluster.awaitSize(0, NODES);
        }
        assertTrue(told, 0);
    }

    @ParameterizedTest
    @ValueSource(ints = {2, 8, 14, 15})
    void whereTheQuorumIsLostInTheMiddleWhatIsToldIsTrue(int statement) {
        fill(3);
        Ddl.of(node(0), KEPT).apply();
        AtomicBoolean armed = new AtomicBoolean();
        DataSource source = Interrupted.beforeStatement(
                statement, cluster.source(database, "&socketTimeout=8000", 0), armed::get, () -> {
                    cluster.silence(1);
                    cluster.silence(2);
                    Awaitility.await()
                            .atMost(Duration.ofSeconds(30))
                            .pollInterval(Duration.ofMillis(200))
                            .until(() -> !isPrimary(0));
                });
        Vacancy vacancy = Vacancy.over(source, KEPT);
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").keys(List.of(1, 2, 3)), NIGHTLY));
        armed.set(true);

        String told;
        try {
            told = told(() -> vacancy.run(approval));
        } finally {
            cluster.wake(1);
            cluster.wake(2);
            cluster.awaitSize(0, NODES);
            cluster.awaitSize(1, NODES);
            cluster.awaitSize(2, NODES);
        }

        assertTrue(told, 1);
        assertTrue(told, 0);
    }

    private boolean isPrimary(int node) {
        try {
            return Servers.value(
                            cluster.source(node, ""),
                            "select variable_value from information_schema.global_status where variable_name = 'wsrep_cluster_status'")
                    .equals("Primary");
        } catch (IllegalStateException refused) {
            return false;
        }
    }

    @Test
    void aCommitThatTheTrailDoesNotKnowOfIsKeptFromHappening() throws Exception {
        Ddl.of(node(0), KEPT).apply();
        fill(9);
        List<String> told = new ArrayList<>();

        for (int hive = 1; hive <= 9; hive++) {
            Selection selection = Selection.of("hive").key(hive);
            told.add(committingLate(hive, KEPT, vacancy -> {
                Approval approval = Approval.of(vacancy.plan(selection, NIGHTLY));
                return () -> vacancy.run(approval);
            }));
        }
        assertThat(told).filteredOn("unknown"::equals).hasSizeLessThanOrEqualTo(3);

        assertThat(on(1, KEPT).history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @Test
    void aCommitThatNoReceiptKnowsOfIsKeptFromHappening() throws Exception {
        Ddl.of(node(0), Ddl.Part.APPROVALS).apply();
        fill(6);
        ApprovalKeys keys = ApprovalKeys.signingWith("one", new byte[32]);
        List<String> told = new ArrayList<>();

        for (int hive = 1; hive <= 6; hive++) {
            Selection selection = Selection.of("hive").key(hive);
            told.add(committingLate(hive, RuleBook.bySchema(), vacancy -> {
                Approvals approvals = Approvals.of(vacancy, keys);
                String token = approvals.issue(Question.about(vacancy.plan(selection, NIGHTLY)));
                return () -> approvals.redeem(token, selection, NIGHTLY, "yes");
            }));
        }
        assertThat(told).filteredOn("unknown"::equals).hasSizeLessThanOrEqualTo(2);
    }

    /** The commit reaches its node only after another node was asked what came of it; what is told of it stays true. */
    private String committingLate(int hive, RuleBook rules, Function<Vacancy, Runnable> agreeing) {
        String told = toldLate(hive, rules, agreeing);

        for (int each = 0; each < NODES; each++) {
            cluster.awaitSize(each, NODES);
        }
        String left = told.equals("unknown")
                ? Servers.value(node(1), "select count(*) from hive where hive_id = " + hive)
                : told.equals("done") ? "0" : "1";
        for (int each = 0; each < NODES; each++) {
            Servers.awaitValue(node(each), "select count(*) from hive where hive_id = " + hive, left);
            assertThat(Servers.value(node(each), "select count(*) from treatment where hive_id = " + hive))
                    .isEqualTo(left);
        }
        return told;
    }

    /** Returns what is told where the first node is silent from the commit on, and another node is asked. */
    private String toldLate(int hive, RuleBook rules, Function<Vacancy, Runnable> agreeing) {
        // Every third time the node is taken for lost before it can go on.
        int silence = hive % 3 == 0 ? 4_000 : IMPATIENCE + 50 + 50 * hive;
        AtomicBoolean armed = new AtomicBoolean();
        AtomicBoolean silent = new AtomicBoolean();
        List<CompletableFuture<Void>> woken = new ArrayList<>();
        DataSource patient = node(0);
        DataSource impatient = cluster.source(database, "&socketTimeout=" + IMPATIENCE, 0);
        DataSource second = node(1);
        Supplier<DataSource> present = () -> silent.get() ? second : armed.get() ? impatient : patient;
        DataSource source = Interrupted.beforeWrittenCommit(present, armed::get, () -> {
            silent.set(true);
            cluster.silence(0);
            woken.add(CompletableFuture.runAsync(
                    () -> cluster.wake(0), CompletableFuture.delayedExecutor(silence, TimeUnit.MILLISECONDS)));
        });
        Runnable run = agreeing.apply(Vacancy.over(source, rules));
        armed.set(true);

        String told = told(run);

        woken.forEach(CompletableFuture::join);
        assertThat(woken).hasSize(1);
        return told;
    }

    private static String told(Runnable run) {
        try {
            run.run();
            return "done";
        } catch (OutcomeUnknownException unknown) {
            return "unknown";
        } catch (VacancyException failure) {
            assertThat(failure)
                    .isInstanceOfAny(DatabaseException.class, InvalidRequestException.class, LockedException.class);
            return "not done";
        }
    }

    private void assertTrue(String told, int node) {
        long left = Servers.count(node(node), "hive");
        assertThat(left).isIn(0L, 3L);
        assertThat(Servers.count(node(node), "treatment")).isEqualTo(left);
        if (!told.equals("unknown")) {
            assertThat(left).as("what was told as " + told).isEqualTo(told.equals("done") ? 0 : 3);
        }
        assertThat(Servers.count(node(node), "vacancy_trail_entry")).isEqualTo(6 - 2 * left);
        assertThat(on(node, KEPT).history().verify(Optional.empty()).isIntact()).isTrue();
    }

    /** Loses the first node just before a statement of what is done by a source that knows all of them, and gets it back in the end. */
    private void losingANode(int statement, RuleBook rules, Consumer<Vacancy> work, Runnable after) {
        AtomicBoolean killed = new AtomicBoolean();
        AtomicBoolean armed = new AtomicBoolean();
        Vacancy vacancy = Vacancy.over(
                Interrupted.beforeStatement(statement, cluster.source(database, "", 0, 1, 2), armed::get, () -> {
                    killed.set(true);
                    cluster.kill(0);
                }),
                rules);
        armed.set(true);
        try {
            try {
                work.accept(vacancy);
            } catch (VacancyException lost) {
                assertThat(lost)
                        .isInstanceOfAny(DatabaseException.class, LockedException.class, OutcomeUnknownException.class);
            }
            assertThat(killed).isTrue();
            after.run();
        } finally {
            cluster.startNode(0);
            cluster.awaitSize(0, NODES);
        }
    }

    @ParameterizedTest
    @ValueSource(ints = {4, 9, 14, 19, 24, 29})
    void aBulkRunGoesOnWhereItsNodeIsLost(int statement) {
        fill(6);
        Ddl.of(node(0), KEPT, Ddl.Part.BULK_RUNS).apply();
        BulkRuns others = on(1, KEPT).bulk();
        UUID run = others.start(Selection.of("hive").allRecords(), NIGHTLY, BulkOptions.defaults())
                .runId();
        Servers.awaitValue(node(0), "select count(*) from vacancy_bulk_record", "6");
        BulkOptions two = BulkOptions.defaults().chunk(2);

        losingANode(statement, KEPT, vacancy -> vacancy.bulk().work(run, two, Exemption.none(), progress -> {}), () -> {
            BulkRun end = others.work(run, two, Exemption.none(), progress -> {});
            assertThat(end.state()).isEqualTo(BulkState.DONE);
            assertThat(end.done()).isEqualTo(6);
            assertThat(end.deleted()).isEqualTo(12);
        });

        assertThat(Servers.count(node(0), "hive")).isZero();
        assertThat(Servers.count(node(0), "vacancy_trail_entry")).isEqualTo(12);
        assertThat(on(0, KEPT).history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @ParameterizedTest
    @ValueSource(ints = {3, 8, 13, 18, 23})
    void aRestoreIsDoneOrNotWhereItsNodeIsLost(int statement) {
        fill(3);
        Ddl.of(node(0), KEPT).apply();
        UUID run = on(1, KEPT)
                .delete(Selection.of("hive").keys(List.of(1, 2, 3)), NIGHTLY)
                .runId();
        Servers.awaitValue(node(0), "select count(*) from hive", "0");
        AtomicReference<String> told = new AtomicReference<>("not done");

        losingANode(
                statement,
                KEPT,
                vacancy -> told.set(told(() ->
                        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, NIGHTLY))))),
                () -> {
                    long back = Servers.count(node(1), "hive");
                    assertThat(Servers.count(node(1), "treatment")).isEqualTo(back);
                    if (!told.get().equals("unknown")) {
                        assertThat(back).isEqualTo(told.get().equals("done") ? 3 : 0);
                    }
                });

        assertThat(on(0, KEPT).history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @ParameterizedTest
    @ValueSource(ints = {5, 12, 19, 26, 33})
    void aRetirementThatWasBegunComesBackWhereItsNodeIsLost(int statement) {
        fill(3);
        Ddl.of(node(0), KEPT, Ddl.Part.RETIREMENTS).apply();
        Servers.awaitValue(node(1), "select count(*) from vacancy_retirement", "0");

        losingANode(
                statement,
                KEPT,
                vacancy -> vacancy.retire(Approval.of(vacancy.plan(Retirement.ofColumn("hive", "name"), NIGHTLY))),
                () -> {
                    Vacancy other = on(1, KEPT);
                    other.retirements().list().stream()
                            .filter(one -> one.state() != Retired.State.RETURNED)
                            .forEach(one ->
                                    other.retire(Approval.of(other.retirements().planReturn(one.id(), NIGHTLY))));
                    assertThat(Servers.rows(node(1), "select name from hive order by hive_id"))
                            .containsExactly("hive 1", "hive 2", "hive 3");
                });

        assertThat(Servers.rows(node(0), "select name from hive order by hive_id"))
                .containsExactly("hive 1", "hive 2", "hive 3");
    }

    @Test
    void aBulkRunThatBeginsLateBeginsOnceOrNever() throws Exception {
        Ddl.of(node(0), Ddl.Part.BULK_RUNS).apply();
        fill(6);

        for (int hive = 1; hive <= 6; hive++) {
            Selection selection = Selection.of("hive").key(hive);
            int number = hive;
            List<BulkRun> begun = new ArrayList<>();
            String told = toldLate(
                    number,
                    RuleBook.bySchema(),
                    vacancy -> () -> begun.add(vacancy.bulk().start(selection, NIGHTLY, BulkOptions.defaults())));

            for (int each = 0; each < NODES; each++) {
                cluster.awaitSize(each, NODES);
            }
            String there = told.equals("unknown")
                    ? Servers.value(node(1), "select count(*) from vacancy_bulk_run")
                    : told.equals("done") ? "1" : "0";
            for (int each = 0; each < NODES; each++) {
                Servers.awaitValue(node(each), "select count(*) from vacancy_bulk_run", there);
            }
            begun.forEach(run -> assertThat(
                            on(2, RuleBook.bySchema()).bulk().work(run.runId()).done())
                    .isEqualTo(1));
            Servers.execute(node(0), "delete from vacancy_bulk_run", "delete from vacancy_bulk_record");
        }
    }

    @Test
    void aChunkThatIsCommittedLateIsDoneOnce() throws Exception {
        Ddl.of(node(0), KEPT, Ddl.Part.BULK_RUNS).apply();
        fill(6);

        for (int hive = 1; hive <= 6; hive++) {
            UUID run = on(1, KEPT)
                    .bulk()
                    .start(Selection.of("hive").key(hive), NIGHTLY, BulkOptions.defaults())
                    .runId();
            Servers.awaitValue(node(0), "select count(*) from vacancy_bulk_record where run_id = '" + run + "'", "1");

            toldLate(hive, KEPT, vacancy -> () -> vacancy.bulk().work(run));

            BulkRun end = on(2, KEPT).bulk().work(run);
            assertThat(end.state()).isEqualTo(BulkState.DONE);
            assertThat(end.done()).isEqualTo(1);
            assertThat(end.deleted()).isEqualTo(2);
            for (int each = 0; each < NODES; each++) {
                cluster.awaitSize(each, NODES);
                Servers.awaitValue(node(each), "select count(*) from hive where hive_id = " + hive, "0");
                Servers.awaitValue(node(each), "select count(*) from vacancy_trail_entry", String.valueOf(2 * hive));
            }
        }
        assertThat(on(1, KEPT).history().verify(Optional.empty()).isIntact()).isTrue();
    }
}
