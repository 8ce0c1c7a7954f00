package dev.vacancy.clusters;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.approvals.Receipt;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.ServerRule;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;

/** What several nodes do at once. */
class GaleraTest extends OnGalera {
    @Test
    void whatSeveralNodesDeleteAtOnceIsToldByOneOfThem() throws Exception {
        fill(80);
        Ddl.of(node(0), KEPT).apply();
        List<Integer> deleted = Collections.synchronizedList(new ArrayList<>());
        List<Callable<Void>> writers = new ArrayList<>();
        for (int each = 0; each < NODES; each++) {
            Vacancy vacancy = on(each, KEPT);
            writers.add(() -> {
                for (int hive = 1; hive <= 80; hive++) {
                    if (vacancy.delete(Selection.of("hive").key(hive), NIGHTLY).total() > 0) {
                        deleted.add(hive);
                    }
                }
                return null;
            });
        }

        Together.call(writers);

        assertThat(deleted).doesNotHaveDuplicates().hasSize(80);
        assertThat(Servers.count(node(1), "treatment")).isZero();
        assertThat(Servers.count(node(2), "vacancy_trail_entry")).isEqualTo(160);
        assertThat(on(2, KEPT).history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @Test
    void onALinkThatNobodyDeclaresNothingIsDeletedUnlessWritersUseOneNode() {
        fill(2);
        Servers.execute(node(0), "insert into visit (hive_id) values (1)");
        RuleBook rules = RuleBook.bySchema().link("visit.hive_id", "hive").on("visit.hive_id", Clause.cascade());

        assertThatThrownBy(() -> on(0, rules).plan(Selection.of("hive").key(1), NIGHTLY))
                .hasMessageContaining("left as an orphan")
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.SEVERAL_SERVERS));
        assertThat(Vacancy.check(node(0), rules))
                .filteredOn(finding -> finding.kind() == Finding.Kind.SEVERAL_SERVERS)
                .extracting(Finding::where)
                .containsExactly("visit.hive_id");

        RuleBook one = rules.servers(ServerRule.SINGLE_WRITER);
        assertThat(on(0, one).delete(Selection.of("hive").key(1), NIGHTLY).counts())
                .containsEntry("visit", 1L);
        assertThat(Vacancy.check(node(0), one)).noneMatch(finding -> finding.kind() == Finding.Kind.SEVERAL_SERVERS);
    }

    @Test
    void aChildThatComesInByAnotherNodeIsNeverLeftAsAnOrphan() throws Exception {
        fill(60);
        Vacancy vacancy = on(0, RuleBook.bySchema());
        DataSource other = node(1);

        Together.call(List.<Callable<Void>>of(
                () -> {
                    for (int hive = 1; hive <= 60; hive++) {
                        vacancy.delete(Selection.of("hive").key(hive), NIGHTLY);
                    }
                    return null;
                },
                () -> {
                    for (int hive = 1; hive <= 60; hive++) {
                        try {
                            Servers.execute(
                                    other, "insert into treatment values (" + (1000 + hive) + ", " + hive + ")");
                        } catch (IllegalStateException refused) {
                            // Its parent has gone, or goes at this moment.
                            assertThat(refused.getMessage()).containsAnyOf("foreign key", "Deadlock");
                        }
                    }
                    return null;
                }));

        assertThat(Servers.count(node(2), "hive")).isZero();
        assertThat(Servers.count(node(2), "treatment")).isZero();
    }

    @Test
    void childrenAreNeverHandedOverToARecordThatAnotherNodeMarksAtThatMoment() throws Exception {
        fill(60);
        Marker marker = Marker.timestamp("gone_at");
        RuleBook marking =
                KEPT.marker("hive", marker).soft("hive").on("treatment.hive_id", Clause.block("it is being treated"));
        Ddl.of(node(0), marking).apply();
        AtomicInteger refused = new AtomicInteger();
        for (int pair = 1; pair < 60; pair += 2) {
            int from = pair;
            int to = pair + 1;
            RuleBook handing = KEPT.marker("hive", marker).on("treatment.hive_id", Clause.reassign(to));
            Servers.execute(node(0), "delete from treatment where hive_id = " + to);
            Servers.awaitValue(node(1), "select count(*) from treatment where hive_id = " + to, "0");
            Together.call(List.of(deleting(on(0, handing), from, refused), deleting(on(1, marking), to, refused)));
        }

        assertThat(Servers.count(
                        node(2), "treatment t join hive h on h.hive_id = t.hive_id where h.gone_at is not null"))
                .isZero();
        assertThat(refused).hasPositiveValue();
    }

    @Test
    void withoutATrailNothingTellsThatARecordIsMarkedThatShouldTakeOver() {
        fill(2);
        RuleBook handing = RuleBook.bySchema()
                .marker("hive", Marker.timestamp("gone_at"))
                .on("treatment.hive_id", Clause.reassign(2));
        Selection selection = Selection.of("hive").key(1);

        assertThatThrownBy(() -> on(0, handing).plan(selection, NIGHTLY)).hasMessageContaining("would be handed over");
        assertThat(on(0, handing.servers(ServerRule.SINGLE_WRITER))
                        .delete(selection, NIGHTLY)
                        .total())
                .isEqualTo(1);
    }

    private static Callable<Void> deleting(Vacancy vacancy, int hive, AtomicInteger refused) {
        return () -> {
            try {
                vacancy.delete(Selection.of("hive").key(hive), NIGHTLY);
            } catch (VacancyException refusal) {
                refused.incrementAndGet();
            }
            return null;
        };
    }

    @Test
    void whoRedeemsAnApprovalOnAnotherNodeGetsTheFirstReceipt() throws Exception {
        fill(20);
        Ddl.of(node(0), Ddl.Part.APPROVALS).apply();
        ApprovalKeys keys = ApprovalKeys.signingWith("one", new byte[32]);
        By odile = By.user("odile");
        List<Approvals> nodes = IntStream.range(0, NODES)
                .mapToObj(each -> Approvals.of(on(each, RuleBook.bySchema()), keys))
                .toList();
        for (int hive = 1; hive <= 20; hive++) {
            Selection selection = Selection.of("hive").key(hive);
            String token =
                    nodes.get(0).issue(Question.about(on(0, RuleBook.bySchema()).plan(selection, odile)));

            List<Receipt> receipts = Together.call(nodes.stream()
                    .<Callable<Receipt>>map(approvals -> () -> approvals.redeem(token, selection, odile, "yes"))
                    .toList());

            assertThat(receipts)
                    .extracting(Receipt::runId)
                    .containsOnly(receipts.get(0).runId());
            assertThat(receipts).filteredOn(receipt -> !receipt.repeated()).hasSize(1);
            assertThat(receipts).allMatch(receipt -> receipt.counts().get("hive") == 1);
        }
    }

    @Test
    void workersOnSeveralNodesTakeRangesOfTheirOwn() throws Exception {
        fill(6_000);
        Ddl.of(node(0), Ddl.Part.BULK_RUNS).apply();
        Vacancy first = on(0, RuleBook.bySchema());
        BulkRun run = first.bulk()
                .start(
                        Approval.inChunks(first.plan(Selection.of("hive").allRecords(), NIGHTLY)),
                        BulkOptions.defaults().maxPerTransaction(200));

        List<BulkState> ends = Together.call(IntStream.range(0, NODES)
                .<Callable<BulkState>>mapToObj(each -> {
                    Vacancy vacancy = on(each, RuleBook.bySchema());
                    return () -> vacancy.bulk()
                            .work(
                                    run.runId(),
                                    BulkOptions.defaults().maxPerTransaction(200),
                                    Exemption.none(),
                                    progress -> {})
                            .state();
                })
                .toList());

        assertThat(ends).containsOnly(BulkState.DONE);
        assertThat(first.bulk().run(run.runId()))
                .satisfies(end -> assertThat(end.done()).isEqualTo(6_000))
                .satisfies(end -> assertThat(end.deleted()).isEqualTo(12_000))
                .satisfies(end -> assertThat(end.skipped() + end.failed()).isZero());
        assertThat(Servers.count(node(0), "vacancy_bulk_share where done > 0")).isEqualTo(NODES);
    }

    @Test
    void whatFollowsIsHandledOnceByWorkersOnSeveralNodes() throws Exception {
        fill(60);
        RuleBook rules = KEPT.followUp("hive", FollowUp.named("files").columns("name"));
        Ddl.of(node(0), rules).apply();
        Vacancy vacancy = on(0, rules);
        for (int hive = 1; hive <= 60; hive++) {
            vacancy.delete(Selection.of("hive").key(hive), NIGHTLY);
        }
        List<UUID> handled = Collections.synchronizedList(new ArrayList<>());

        List<Long> counts = Together.call(IntStream.range(0, NODES)
                .<Callable<Long>>mapToObj(each -> {
                    Vacancy worker = on(each, rules).withFollowUp("files", message -> handled.add(message.id()));
                    return () -> worker.followUps().work();
                })
                .toList());

        assertThat(handled).doesNotHaveDuplicates().hasSize(60);
        assertThat(counts.stream().mapToLong(Long::longValue).sum()).isEqualTo(60);
    }

    @Test
    void aNodeThatLagsFirstCatchesUp() throws Exception {
        fill(2);
        Vacancy vacancy = on(1, RuleBook.bySchema());
        try (Lag lag = new Lag()) {
            assertThat(Servers.count(node(1), "treatment")).isEqualTo(2);
            CompletableFuture<Long> planned = CompletableFuture.supplyAsync(
                    () -> vacancy.plan(Selection.of("hive").key(1), NIGHTLY).total());
            assertThatThrownBy(() -> planned.get(1, TimeUnit.SECONDS)).isInstanceOf(TimeoutException.class);

            lag.end();

            assertThat(planned.get(20, TimeUnit.SECONDS)).isEqualTo(3);
        }
    }

    @Test
    void aNodeThatDoesNotCatchUpInTimeSaysSo() throws Exception {
        fill(2);
        Vacancy vacancy = on(1, RuleBook.bySchema());
        try (Lag lag = new Lag()) {
            assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").key(1), NIGHTLY))
                    .isInstanceOf(VacancyException.class)
                    .hasMessageContaining("behind");
            lag.end();
        }
    }

    /** The second node applies nothing of what the others commit, of which there is a treatment at once. */
    private final class Lag implements AutoCloseable {
        private final Connection connection = node(1).getConnection();
        private final Statement statement = connection.createStatement();

        Lag() throws SQLException {
            statement.execute("set global wsrep_desync = on");
            statement.execute("flush tables with read lock");
            Servers.execute(node(0), "insert into treatment values (100, 1)");
        }

        void end() throws SQLException {
            statement.execute("unlock tables");
            statement.execute("set global wsrep_desync = off");
        }

        @Override
        public void close() throws SQLException {
            connection.close();
        }
    }
}
