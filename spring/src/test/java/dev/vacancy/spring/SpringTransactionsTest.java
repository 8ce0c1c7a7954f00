package dev.vacancy.spring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.CommitListener;
import dev.vacancy.FailureCode;
import dev.vacancy.Limits;
import dev.vacancy.LockedException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy;
import org.springframework.transaction.TransactionDefinition;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Whatever Vacancy does while Spring has a transaction open is part of it. */
class SpringTransactionsTest {
    private static final By UNA = By.user("una");
    private static final Selection NORTH = Selection.of("pier").key(1);

    private static TransactionTemplate template(DataSource source) {
        return new TransactionTemplate(new DataSourceTransactionManager(source));
    }

    private static TransactionTemplate template(DataSource source, int propagation) {
        TransactionTemplate template = template(source);
        template.setPropagationBehavior(propagation);
        return template;
    }

    private static Vacancy vacancy(DataSource source) {
        return Vacancy.over(source, Marina.RULES, SpringTransactions.of(source));
    }

    @OnEveryEngine
    void aDeletionIsCommittedAndToldWithTheTransaction(Engine engine) {
        Database database = Marina.on(engine);
        DataSource source = database.source();
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = vacancy(source).withListener(Marina.into(heard));

        template(source).executeWithoutResult(status -> {
            new JdbcTemplate(source).update("insert into berth values (12, 1)");
            vacancy.delete(NORTH, UNA);
            assertThat(heard).isEmpty();
        });

        assertThat(heard).containsExactly("pier 4");
        assertThat(database.rows("select pier_id from pier")).containsExactly("2");
        assertThat(vacancy.history().runs(HistoryQuery.all())).hasSize(1);
    }

    @OnEveryEngine
    void whatIsRolledBackWasNeverDoneNorTold(Engine engine) {
        Database database = Marina.on(engine);
        DataSource source = database.source();
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = vacancy(source).withListener(Marina.into(heard));

        template(source).executeWithoutResult(status -> {
            vacancy.delete(NORTH, UNA);
            status.setRollbackOnly();
        });

        assertThat(heard).isEmpty();
        assertThat(database.count("berth")).isEqualTo(3);
        assertThat(vacancy.history().runs(HistoryQuery.all())).isEmpty();
    }

    /** A test's transaction, that of {@code @Transactional} on a service, a template: all of them go back to a savepoint in this way. */
    @OnEveryEngine
    void whatGoesBackToASavepointIsNotTold(Engine engine) {
        Database database = Marina.on(engine);
        DataSource source = database.source();
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = vacancy(source).withListener(Marina.into(heard));

        template(source).executeWithoutResult(outer -> {
            vacancy.delete(Selection.of("berth").key(10), UNA);
            template(source, TransactionDefinition.PROPAGATION_NESTED).executeWithoutResult(inner -> {
                vacancy.delete(NORTH, UNA);
                inner.setRollbackOnly();
            });
            vacancy.delete(Selection.of("berth").key(11), UNA);
        });

        assertThat(heard).containsExactly("berth 1", "berth 1");
        assertThat(database.rows("select berth_id from berth")).containsExactly("20");
        assertThat(database.count("pier")).isEqualTo(2);
        assertThat(vacancy.history().runs(HistoryQuery.all())).hasSize(2);
    }

    @OnEveryEngine
    void aPlanSeesWhatTheTransactionHasWritten(Engine engine) {
        Database database = Marina.on(engine);
        DataSource source = database.source();
        Vacancy vacancy = vacancy(source);

        Plan plan = template(source).execute(status -> {
            new JdbcTemplate(source).update("insert into berth values (12, 1)");
            Plan seen = vacancy.plan(NORTH, UNA);
            status.setRollbackOnly();
            return seen;
        });

        assertThat(plan.counts()).containsEntry("berth", 3L);
        assertThatThrownBy(() -> vacancy.run(Approval.of(plan))).isInstanceOf(StalePlanException.class);
    }

    @OnEveryEngine
    void aRestoreIsPartOfTheTransactionToo(Engine engine) {
        Database database = Marina.on(engine);
        DataSource source = database.source();
        Vacancy vacancy = vacancy(source);
        Outcome outcome = vacancy.delete(NORTH, UNA);

        template(source).executeWithoutResult(status -> {
            vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), UNA)));
            status.setRollbackOnly();
        });

        assertThat(database.count("pier")).isEqualTo(1);
    }

    @OnEveryEngine
    void inATransactionForReadingOnlyNothingIsDeleted(Engine engine) {
        Database database = Marina.on(engine);
        DataSource source = database.source();
        Vacancy vacancy = vacancy(source);
        TransactionTemplate reading = template(source);
        reading.setReadOnly(true);

        reading.executeWithoutResult(status -> {
            assertThat(vacancy.plan(NORTH, UNA).total()).isEqualTo(3);
            assertThatThrownBy(() -> vacancy.delete(NORTH, UNA))
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refused -> assertThat(refused.code()).isEqualTo(FailureCode.READ_ONLY));
        });

        assertThat(database.count("pier")).isEqualTo(2);
    }

    /** The inner one waits for the outer, which waits for the inner to return: only a time limit ends that. */
    @OnEveryEngine
    void aNewTransactionInsideIsRefusedWhatTheOuterHolds(Engine engine) {
        Database database = Marina.on(engine);
        DataSource source = database.source();
        Vacancy vacancy = vacancy(source).withLimits(Limits.defaults().lockWait(Duration.ofMillis(300)));

        template(source).executeWithoutResult(outer -> {
            new JdbcTemplate(source).update("update pier set name = 'Far North' where pier_id = 1");
            assertThatThrownBy(() -> template(source, TransactionDefinition.PROPAGATION_REQUIRES_NEW)
                            .executeWithoutResult(inner -> vacancy.delete(NORTH, UNA)))
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refused -> assertThat(refused.code()).isIn(FailureCode.LOCKED, FailureCode.DATABASE));
        });

        assertThat(database.rows("select name from pier where pier_id = 1")).containsExactly("Far North");
    }

    @Test
    void aNewTransactionInsideIsItsOwn() {
        Database database = Marina.on(Engine.POSTGRESQL);
        DataSource source = database.source();
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = Vacancy.over(source, RuleBook.bySchema(), SpringTransactions.of(source))
                .withListener(Marina.into(heard));

        template(source).executeWithoutResult(outer -> {
            vacancy.delete(Selection.of("berth").key(10), UNA);
            template(source, TransactionDefinition.PROPAGATION_REQUIRES_NEW)
                    .executeWithoutResult(
                            inner -> vacancy.delete(Selection.of("mooring").key(200), UNA));
            assertThat(heard).containsExactly("mooring 1");
            outer.setRollbackOnly();
        });

        assertThat(heard).containsExactly("mooring 1");
        assertThat(database.count("mooring")).isZero();
        assertThat(database.count("berth")).isEqualTo(3);
    }

    /** Each run of a trail follows the one before, so the next one waits for the end of the transaction that has written it. */
    @Test
    void aNewTransactionInsideCantWriteToTheTrailThatTheOuterWritesTo() {
        Database database = Marina.on(Engine.POSTGRESQL);
        DataSource source = database.source();
        Vacancy vacancy = vacancy(source).withLimits(Limits.defaults().lockWait(Duration.ofMillis(300)));

        template(source).executeWithoutResult(outer -> {
            vacancy.delete(Selection.of("berth").key(10), UNA);
            assertThatThrownBy(() -> template(source, TransactionDefinition.PROPAGATION_REQUIRES_NEW)
                            .executeWithoutResult(inner ->
                                    vacancy.delete(Selection.of("mooring").key(200), UNA)))
                    .isInstanceOf(LockedException.class);
        });

        assertThat(database.count("mooring")).isEqualTo(1);
        assertThat(database.count("berth")).isEqualTo(2);
    }

    @Test
    void whatAListenerDeletesAfterTheCommitIsCommitted() {
        Database database = Marina.on(Engine.POSTGRESQL);
        DataSource source = database.source();
        Vacancy vacancy = vacancy(source);
        Vacancy listening = vacancy.withListener(new CommitListener() {
            @Override
            public void deleted(Outcome outcome) {
                vacancy.delete(Selection.of("mooring").key(200), UNA);
            }
        });

        template(source).executeWithoutResult(status -> {
            listening.delete(NORTH, UNA);
            TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
                @Override
                public void afterCommit() {
                    vacancy.delete(Selection.of("berth").key(20), UNA);
                }
            });
        });

        assertThat(database.count("mooring")).isZero();
        assertThat(database.count("berth")).isZero();
    }

    @Test
    void aTransactionOnAnotherDataSourceIsNotTakenForThisOne() {
        Database one = Marina.on(Engine.H2);
        Database other = Marina.on(Engine.POSTGRESQL);
        Vacancy vacancy = vacancy(one.source());

        template(other.source()).executeWithoutResult(status -> {
            vacancy.delete(NORTH, UNA);
            status.setRollbackOnly();
        });

        assertThat(one.count("pier")).isEqualTo(1);
        assertThat(other.count("pier")).isEqualTo(2);
    }

    @Test
    void aProxyThatKnowsTransactionsIsLookedBehind() {
        Database database = Marina.on(Engine.H2);
        DataSource proxy = new TransactionAwareDataSourceProxy(database.source());
        Vacancy vacancy = Vacancy.over(database.source(), Marina.RULES, SpringTransactions.of(proxy));

        template(proxy).executeWithoutResult(status -> {
            vacancy.delete(NORTH, UNA);
            status.setRollbackOnly();
        });

        assertThat(database.count("pier")).isEqualTo(2);
    }

    @Test
    void whatCantBePartOfATransactionIsRefusedInOne() {
        Database database = Marina.on(Engine.H2);
        DataSource source = database.source();
        Vacancy vacancy = vacancy(source);
        Plan plan = vacancy.plan(NORTH, UNA);

        template(source)
                .executeWithoutResult(status -> assertThatThrownBy(() -> vacancy.bulk()
                                .start(Question.aboutChunks(plan).answer("yes").orElseThrow(), BulkOptions.defaults()))
                        .isInstanceOfSatisfying(
                                VacancyException.class,
                                refused -> assertThat(refused.code()).isEqualTo(FailureCode.FOREIGN_TRANSACTION)));

        assertThat(database.count("pier")).isEqualTo(2);
    }

    /** All of it runs on the transaction's connection, and gives it back. */
    @Test
    void aPoolOfOneConnectionIsEnough() {
        Database database = Marina.on(Engine.POSTGRESQL);
        try (HikariDataSource pool = new HikariDataSource()) {
            pool.setDataSource(database.source());
            pool.setMaximumPoolSize(1);
            pool.setConnectionTimeout(2_000);
            Vacancy vacancy = vacancy(pool);

            template(pool).executeWithoutResult(status -> vacancy.delete(NORTH, UNA));
            template(pool).executeWithoutResult(status -> vacancy.history().runs(HistoryQuery.all()));
            vacancy.delete(Selection.of("mooring").key(200), UNA);

            assertThat(pool.getHikariPoolMXBean().getActiveConnections()).isZero();
        }
        assertThat(database.count("berth")).isEqualTo(1);
    }

    @Test
    void connectionsThatDontCommitByThemselvesAreTaken() {
        Database database = Marina.on(Engine.POSTGRESQL);
        try (HikariDataSource pool = new HikariDataSource()) {
            pool.setDataSource(database.source());
            pool.setAutoCommit(false);
            pool.setMaximumPoolSize(2);
            Vacancy vacancy = vacancy(pool);

            vacancy.delete(NORTH, UNA);
            template(pool).executeWithoutResult(status -> {
                vacancy.delete(Selection.of("mooring").key(200), UNA);
                status.setRollbackOnly();
            });
        }

        assertThat(database.count("pier")).isEqualTo(1);
        assertThat(database.count("mooring")).isEqualTo(1);
    }

    @Test
    void afterTheCommitOfNothingNothingIsDone() {
        SpringTransactions transactions =
                SpringTransactions.of(Marina.on(Engine.H2).source());

        assertThat(transactions.open()).isEmpty();
        assertThatThrownBy(() -> transactions.afterCommit(() -> {})).isInstanceOf(IllegalStateException.class);
    }
}
