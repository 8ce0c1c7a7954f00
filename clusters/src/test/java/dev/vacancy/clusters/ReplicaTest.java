package dev.vacancy.clusters;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.Outcome;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.IntConsumer;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A server that writes, and a standby that follows it and may take its place. */
class ReplicaTest {
    private static final By NIGHTLY = By.program("nightly");
    private static final RuleBook KEPT = RuleBook.bySchema().trail(Trail.defaults());
    private static final int HIVES = 2_000;

    private static void fill(DataSource source, int hives) {
        Servers.execute(
                source,
                "create table hive (hive_id int primary key, name varchar(40))",
                "create table treatment (treatment_id int primary key, hive_id int not null"
                        + " references hive (hive_id) on delete cascade)",
                "create index on treatment (hive_id)",
                "insert into hive select n, 'hive ' || n from generate_series(1, " + hives + ") n",
                "insert into treatment select n, n from generate_series(1, " + hives + ") n");
    }

    @Test
    void whatIsPlannedOnTheReplicaIsRunOnThePrimary() {
        try (PostgresCluster cluster = PostgresCluster.start()) {
            String database = cluster.emptyDatabase();
            fill(cluster.primary(database), 3);
            cluster.awaitStandby();
            Vacancy vacancy = Vacancy.over(cluster.standby(database), cluster.primary(database), RuleBook.bySchema());

            Plan plan = vacancy.plan(Selection.of("hive").key(1), NIGHTLY);
            assertThat(vacancy.list(Selection.of("hive").allRecords(), NIGHTLY, 10))
                    .hasSize(3);
            assertThat(vacancy.run(Approval.of(plan)).total()).isEqualTo(2);

            assertThat(Servers.count(cluster.primary(database), "treatment")).isEqualTo(2);
            assertThatThrownBy(() -> Vacancy.over(cluster.standby(database))
                            .delete(Selection.of("hive").key(2), NIGHTLY))
                    .isInstanceOfSatisfying(
                            InvalidRequestException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.READ_ONLY));
            assertThatThrownBy(() ->
                            Vacancy.over(cluster.standby("postgres"), cluster.primary(database), RuleBook.bySchema()))
                    .hasMessageContaining("leads to another database");
        }
    }

    @Test
    void aPlanOfAReplicaThatIsBehindIsStaleAndSaysSo() {
        try (PostgresCluster cluster = PostgresCluster.start()) {
            String database = cluster.emptyDatabase();
            DataSource primary = cluster.primary(database);
            fill(primary, 3);
            cluster.awaitStandby();
            cluster.pauseReplay(true);
            Servers.execute(primary, "insert into treatment values (100, 1)");
            Vacancy vacancy = Vacancy.over(cluster.standby(database), primary, RuleBook.bySchema());
            Approval late = Approval.of(vacancy.plan(Selection.of("hive").key(1), NIGHTLY));

            assertThatThrownBy(() -> vacancy.run(late))
                    .isInstanceOf(StalePlanException.class)
                    .hasMessageContaining("follows the one that writes")
                    .hasMessageContaining("seconds old")
                    .hasMessageContaining("1 more of treatment");
            assertThat(Servers.count(primary, "hive")).isEqualTo(3);
            // What nobody looks at is planned where it is written.
            assertThat(vacancy.actingFor(NIGHTLY, (by, action, table) -> true)
                            .delete(Selection.of("hive").key(1), NIGHTLY)
                            .total())
                    .isEqualTo(3);

            cluster.pauseReplay(false);
            cluster.awaitStandby();
            assertThat(vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(2), NIGHTLY)))
                            .total())
                    .isEqualTo(2);
        }
    }

    @Test
    void aCommitWaitsForAMissingStandbyNoLongerThanItMay() {
        try (PostgresCluster cluster = PostgresCluster.start()) {
            String database = cluster.emptyDatabase();
            DataSource primary = cluster.primary(database);
            fill(primary, 3);
            Ddl.of(primary, KEPT).apply();
            cluster.await(true);
            Vacancy vacancy =
                    Vacancy.over(primary, KEPT).withLimits(Limits.defaults().lockWait(Duration.ofSeconds(2)));
            assertThat(vacancy.delete(Selection.of("hive").key(1), NIGHTLY).total())
                    .isEqualTo(2);
            cluster.cutStandby();
            Instant start = Instant.now();

            Outcome outcome = vacancy.delete(Selection.of("hive").key(2), NIGHTLY);

            assertThat(Duration.between(start, Instant.now())).isBetween(Duration.ofSeconds(2), Duration.ofSeconds(20));
            assertThat(outcome.total()).isEqualTo(2);
            assertThat(Servers.count(primary, "hive")).isEqualTo(1);
            cluster.resumeStandby();
            cluster.awaitStandby();
            assertThat(Servers.count(cluster.standby(database), "hive")).isEqualTo(1);
        }
    }

    /** Tells of each record that it was told of. */
    private static final class Told implements BulkListener {
        private final List<Integer> hives = new ArrayList<>();
        private final IntConsumer after;

        Told(IntConsumer after) {
            this.after = after;
        }

        @Override
        public void progressed(BulkRun run) {
            // What counts is which records it was told of.
        }

        @Override
        public void deleted(List<RecordContent> records) {
            records.forEach(record -> hives.add(Integer.parseInt(record.key().text())));
            after.accept(hives.size());
        }
    }

    @ParameterizedTest
    @ValueSource(booleans = {true, false})
    void aBulkRunGoesOnWhereTheStandbyTakesOver(boolean awaited) {
        try (PostgresCluster cluster = PostgresCluster.start()) {
            String database = cluster.emptyDatabase();
            fill(cluster.primary(database), HIVES);
            Ddl.of(cluster.primary(database), KEPT, Ddl.Part.BULK_RUNS).apply();
            cluster.awaitStandby();
            cluster.await(awaited);
            Vacancy vacancy = Vacancy.over(cluster.writer(database), KEPT);
            BulkOptions options = BulkOptions.defaults().maxPerTransaction(100);
            BulkRun run = vacancy.bulk()
                    .start(Approval.inChunks(vacancy.plan(Selection.of("hive").allRecords(), NIGHTLY)), options);
            cluster.awaitStandby();
            AtomicBoolean cut = new AtomicBoolean();
            Told before = new Told(told -> {
                if (!awaited && told >= HIVES / 4 && cut.compareAndSet(false, true)) {
                    cluster.cutStandby();
                }
                if (told >= HIVES / 2) {
                    cluster.killPrimary();
                }
            });

            assertThatThrownBy(() -> vacancy.bulk().work(run.runId(), options, Exemption.none(), before))
                    .isInstanceOf(VacancyException.class);
            cluster.promote();
            DataSource standby = cluster.standby(database);
            Set<Integer> lost = there(standby, before.hives);
            Told after = new Told(told -> {});
            BulkRun end = vacancy.bulk().work(run.runId(), options, Exemption.none(), after);

            assertThat(end.state()).isEqualTo(BulkState.DONE);
            assertThat(end.done()).isEqualTo(HIVES);
            assertThat(Servers.count(standby, "hive")).isZero();
            assertThat(Servers.count(standby, "vacancy_trail_entry")).isEqualTo(2L * HIVES);
            assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
            Set<Integer> told = new TreeSet<>(before.hives);
            told.addAll(after.hives);
            assertThat(told).containsAll(IntStream.rangeClosed(1, HIVES).boxed().toList());
            // Who was told of what the primary alone knew is told of it once more.
            Set<Integer> twice = new TreeSet<>(before.hives);
            twice.retainAll(after.hives);
            assertThat(twice).isEqualTo(lost);
            if (awaited) {
                assertThat(lost).isEmpty();
            } else {
                assertThat(lost).isNotEmpty();
            }
        }
    }

    private static Set<Integer> there(DataSource source, List<Integer> hives) {
        String keys = hives.stream().map(String::valueOf).collect(Collectors.joining(", "));
        return Servers.rows(source, "select hive_id from hive where hive_id in (" + keys + ")").stream()
                .map(Integer::valueOf)
                .collect(Collectors.toCollection(TreeSet::new));
    }

    @ParameterizedTest
    @ValueSource(ints = {2, 4, 6, 8, 100})
    void whereTheStandbyTakesOverInTheMiddleOfARunWhatIsToldIsTrue(int statement) {
        try (PostgresCluster cluster = PostgresCluster.start()) {
            String database = cluster.emptyDatabase();
            fill(cluster.primary(database), 3);
            Ddl.of(cluster.primary(database), KEPT).apply();
            cluster.awaitStandby();
            cluster.await(true);
            AtomicBoolean armed = new AtomicBoolean();
            Runnable failover = () -> {
                cluster.killPrimary();
                cluster.promote();
            };
            DataSource writer = cluster.writer(database);
            DataSource source = statement == 100
                    ? Interrupted.beforeWrittenCommit(() -> writer, armed::get, failover)
                    : Interrupted.beforeStatement(statement, writer, armed::get, failover);
            Vacancy vacancy = Vacancy.over(source, KEPT);
            Approval approval = Approval.of(vacancy.plan(Selection.of("hive").allRecords(), NIGHTLY));
            armed.set(true);

            String told;
            try {
                vacancy.run(approval);
                told = "done";
            } catch (OutcomeUnknownException unknown) {
                told = "unknown";
            } catch (VacancyException failure) {
                told = "not done";
            }

            DataSource standby = cluster.standby(database);
            long left = Servers.count(standby, "hive");
            assertThat(left).isIn(0L, 3L);
            assertThat(Servers.count(standby, "treatment")).isEqualTo(left);
            if (!told.equals("unknown")) {
                assertThat(left).isEqualTo(told.equals("done") ? 0 : 3);
            }
            assertThat(Vacancy.over(standby, KEPT)
                            .history()
                            .verify(Optional.empty())
                            .isIntact())
                    .isTrue();
        }
    }
}
