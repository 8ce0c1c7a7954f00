package dev.vacancy.clusters;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.Callable;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A pooler between the application and the database, which hands its connections to somebody else now and then. */
class PoolerTest {
    private static final By NIGHTLY = By.program("nightly");
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("visit.hive_id", "hive")
            .on("visit.hive_id", Clause.cascade())
            .trail(Trail.defaults());
    private static final int THREADS = 6;
    private static final int HIVES = 120;

    private static PostgresCluster servers;

    private String database;

    @BeforeAll
    static void start() {
        servers = PostgresCluster.startPrimary();
    }

    @AfterAll
    static void stop() {
        if (servers != null) {
            servers.close();
        }
    }

    @BeforeEach
    void makeTables() {
        database = servers.emptyDatabase();
        DataSource source = servers.primary(database);
        Servers.execute(
                source,
                "create table hive (hive_id int primary key, name varchar(40))",
                "create table treatment (treatment_id int primary key, hive_id int not null"
                        + " references hive (hive_id) on delete cascade)",
                "create table visit (visit_id int primary key, hive_id int)",
                "insert into hive select n, 'hive ' || n from generate_series(1, " + HIVES + ") n",
                "insert into treatment select n, n from generate_series(1, " + HIVES + ") n",
                "insert into visit select n, n from generate_series(1, " + HIVES + ") n");
        Ddl.of(source, RULES, Ddl.Part.BULK_RUNS).apply();
    }

    /** Has several threads delete hives, each its own; returns the failures. */
    private static List<VacancyException> deleteAll(Vacancy vacancy) throws Exception {
        List<Callable<List<VacancyException>>> threads = new ArrayList<>();
        for (int thread = 0; thread < THREADS; thread++) {
            int first = thread;
            threads.add(() -> {
                List<VacancyException> failures = new ArrayList<>();
                for (int hive = first + 1; hive <= HIVES; hive += THREADS) {
                    try {
                        vacancy.delete(Selection.of("hive").key(hive), NIGHTLY);
                    } catch (VacancyException failure) {
                        failures.add(failure);
                    }
                }
                return failures;
            });
        }
        return Together.call(threads).stream().flatMap(List::stream).toList();
    }

    @Test
    void byTransactionAllOfItWorksOnceTheDriverPreparesNothing() throws Exception {
        try (Pooler pooler = Pooler.start(servers, "transaction")) {
            Vacancy vacancy = Vacancy.over(pooler.source(database, "?prepareThreshold=0"), RULES);
            UUID run = vacancy.delete(Selection.of("hive").key(1), NIGHTLY).runId();
            vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, NIGHTLY)));
            assertThat(Servers.count(servers.primary(database), "visit")).isEqualTo(HIVES);

            assertThat(deleteAll(vacancy)).isEmpty();

            for (String table : List.of("hive", "treatment", "visit")) {
                assertThat(Servers.count(servers.primary(database), table)).isZero();
            }
            assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
        }
    }

    @Test
    void byTransactionSeveralWorkersShareABulkRun() throws Exception {
        try (Pooler pooler = Pooler.start(servers, "transaction")) {
            Vacancy vacancy = Vacancy.over(pooler.source(database, "?prepareThreshold=0"), RULES);
            BulkRun run = vacancy.bulk()
                    .start(
                            Approval.inChunks(vacancy.plan(Selection.of("hive").allRecords(), NIGHTLY)),
                            BulkOptions.defaults());

            List<BulkState> ends = Together.call(Collections.nCopies(
                    THREADS, () -> vacancy.bulk().work(run.runId()).state()));

            assertThat(ends).containsOnly(BulkState.DONE);
            assertThat(vacancy.bulk().run(run.runId()).deleted()).isEqualTo(3L * HIVES);
        }
    }

    @Test
    void byTransactionPreparedStatementsThatAreMixedUpAreToldAsThat() throws Exception {
        try (Pooler pooler = Pooler.start(servers, "transaction")) {
            List<VacancyException> failures;
            try (HikariDataSource pool = new HikariDataSource()) {
                pool.setDataSource(pooler.source(database, "?prepareThreshold=1"));
                pool.setMaximumPoolSize(THREADS);
                failures = deleteAll(Vacancy.over(pool, RULES));
            }

            assertThat(failures)
                    .anySatisfy(failure -> {
                        assertThat(failure.code()).isEqualTo(FailureCode.UNFIT_CONNECTION);
                        assertThat(failure).hasMessageContaining("prepareThreshold=0");
                    })
                    // A connection that is left in the middle of something isn't given back, which costs who gets it
                    // next.
                    .allSatisfy(failure ->
                            assertThat(failure.code()).isIn(FailureCode.UNFIT_CONNECTION, FailureCode.DATABASE));
            assertThat(Servers.count(servers.primary(database), "hive"))
                    .isEqualTo(failures.size())
                    .isEqualTo(Servers.count(servers.primary(database), "visit"));
        }
    }

    @Test
    void byStatementEverythingIsRefused() {
        try (Pooler pooler = Pooler.start(servers, "statement")) {
            assertThatThrownBy(() -> Vacancy.over(pooler.source(database, "?prepareThreshold=0"), RULES)
                            .plan(Selection.of("hive").key(1), NIGHTLY))
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.UNFIT_CONNECTION))
                    .hasMessageContaining("for each statement");
            assertThat(Servers.count(servers.primary(database), "hive")).isEqualTo(HIVES);
        }
    }
}
