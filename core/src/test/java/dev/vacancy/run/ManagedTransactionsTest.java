package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.CommitListener;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.TransactionEndedException;
import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.jdbc.datasource.DataSourceUtils;
import org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Takes part in the transactions of a framework that manages them. */
class ManagedTransactionsTest {
    private static final By ODILE = By.user("odile");
    private static final Selection HIVE = Selection.of("hive").key(1);
    private static final RuleBook KEPT = RuleBook.bySchema().trail(Trail.defaults());

    /** What an application writes once, for its framework. */
    private record Managed(DataSource source) implements TransactionSource {
        @Override
        public Optional<Connection> open() {
            return TransactionSynchronizationManager.isActualTransactionActive()
                    ? Optional.of(DataSourceUtils.getConnection(source))
                    : Optional.empty();
        }

        @Override
        public void afterCommit(Runnable task) {
            TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
                @Override
                public void afterCommit() {
                    task.run();
                }
            });
        }

        @Override
        public boolean isReadOnly() {
            return TransactionSynchronizationManager.isCurrentTransactionReadOnly();
        }
    }

    private static Database hives(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(40))",
                        "create table reading (reading_id integer primary key, hive_id integer not null,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "create table note (note_id integer primary key)",
                        "insert into hive values (1, 'Fen One'), (2, 'Fen Two')",
                        "insert into reading values (10, 1), (11, 1), (12, 2)");
        Ddl.of(database.source(), KEPT).apply();
        return database;
    }

    private static CommitListener into(List<String> heard) {
        return new CommitListener() {
            @Override
            public void deleted(Outcome outcome) {
                heard.add(outcome.table() + " " + outcome.total());
            }
        };
    }

    private static TransactionTemplate template(DataSource source) {
        return new TransactionTemplate(new DataSourceTransactionManager(source));
    }

    @OnEveryEngine
    void whatIsRolledBackOutsideIsRolledBackWithAllOfIt(Engine engine) {
        Database database = hives(engine);
        DataSource source = database.source();
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = Vacancy.over(source, KEPT, new Managed(source)).withListener(into(heard));
        List<String> before = database.contents("hive", "reading", "note");

        template(source).executeWithoutResult(status -> {
            new JdbcTemplate(source).update("insert into note values (1)");
            vacancy.delete(HIVE, ODILE);
            vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(2), ODILE)));
            status.setRollbackOnly();
        });

        assertThat(database.contents("hive", "reading", "note")).isEqualTo(before);
        assertThat(database.rows("select run_id from vacancy_trail_run where place > 0"))
                .isEmpty();
        assertThat(heard).isEmpty();
    }

    @OnEveryEngine
    void whatIsCommittedOutsideIsDoneAndToldThen(Engine engine) {
        Database database = hives(engine);
        DataSource source = database.source();
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = Vacancy.over(source, KEPT, new Managed(source)).withListener(into(heard));

        UUID run = template(source).execute(status -> {
            new JdbcTemplate(source).update("insert into reading values (13, 1)");
            Plan plan = vacancy.plan(HIVE, ODILE);
            assertThat(plan.total())
                    .as("it sees what the transaction has written")
                    .isEqualTo(4);
            Outcome outcome = vacancy.run(Approval.of(plan));
            assertThat(heard).as("nothing is committed yet").isEmpty();
            return outcome.runId();
        });

        assertThat(heard).containsExactly("hive 4");
        assertThat(database.count("hive")).isEqualTo(1);
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
        assertThat(database.count("hive")).isEqualTo(2);
        vacancy.delete(HIVE, ODILE);
        assertThat(heard).containsExactly("hive 4", "hive 4");
    }

    @OnEveryEngine
    void oneConnectionInThePoolIsEnough(Engine engine) {
        Database database = hives(engine);
        HikariConfig config = new HikariConfig();
        config.setDataSource(database.source());
        config.setMaximumPoolSize(1);
        config.setConnectionTimeout(2_000);
        try (HikariDataSource pool = new HikariDataSource(config)) {
            Vacancy vacancy = Vacancy.over(pool, KEPT, new Managed(pool));

            template(pool).executeWithoutResult(status -> vacancy.delete(HIVE, ODILE));

            assertThat(database.count("hive")).isEqualTo(1);
        }
    }

    @OnEveryEngine
    void aTransactionForReadingOnlyIsntWrittenIn(Engine engine) {
        Database database = hives(engine);
        DataSource source = database.source();
        Vacancy vacancy = Vacancy.over(source, KEPT, new Managed(source));
        TransactionTemplate reading = template(source);
        reading.setReadOnly(true);

        reading.executeWithoutResult(status -> {
            assertThat(vacancy.plan(HIVE, ODILE).total()).isEqualTo(3);
            assertThatThrownBy(() -> vacancy.delete(HIVE, ODILE))
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.READ_ONLY));
        });

        assertThat(database.count("hive")).isEqualTo(2);
    }

    @OnEveryEngine
    void whatCommitsByItselfIsRefusedInside(Engine engine) {
        Database database = hives(engine);
        DataSource source = database.source();
        TransactionSource managed = new Managed(source);
        Vacancy vacancy = Vacancy.over(source, KEPT, managed);
        Ddl ddl = Ddl.of(source, RuleBook.bySchema().trail(Trail.defaults().named("run_of", "entry_of")), managed);

        BulkRuns kept = vacancy.bulk();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        template(source).executeWithoutResult(status -> {
            assertThatThrownBy(() -> kept.start(HIVE, ODILE, BulkOptions.defaults()))
                    .hasMessageContaining("commits each");
            assertThatThrownBy(vacancy::bulk).hasMessageContaining("can't be part of the application's transaction");
            new JdbcTemplate(source).update("insert into note values (1)");
            if (engine == Engine.H2 || engine == Engine.MARIADB) {
                assertThatThrownBy(ddl::apply)
                        .isInstanceOf(InvalidRequestException.class)
                        .hasMessageContaining("commits a transaction in which a table is made");
            } else {
                ddl.apply();
            }
            status.setRollbackOnly();
        });

        assertThat(database.count("note")).isZero();
        assertThat(Ddl.of(source, RuleBook.bySchema().trail(Trail.defaults().named("run_of", "entry_of")))
                        .statements())
                .isNotEmpty();
    }

    @OnEveryEngine
    void aDataSourceThatKnowsOfTransactionsCommitsNothingBySurprise(Engine engine) {
        Database database = hives(engine);
        DataSource plain = database.source();
        DataSource aware = new TransactionAwareDataSourceProxy(plain);
        Ddl ddl = Ddl.of(aware, RuleBook.bySchema().trail(Trail.defaults().named("run_of", "entry_of")));

        template(plain).executeWithoutResult(status -> {
            new JdbcTemplate(aware).update("insert into note values (1)");
            assertThatThrownBy(ddl::apply)
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.FOREIGN_TRANSACTION));
            status.setRollbackOnly();
        });

        assertThat(database.count("note")).isZero();
    }

    @OnEveryEngine
    void connectionsThatDontCommitByThemselvesCanBeUsedWhereNobodyElseDoes(Engine engine) {
        Database database = hives(engine);
        HikariConfig config = new HikariConfig();
        config.setDataSource(database.source());
        config.setAutoCommit(false);
        try (HikariDataSource pool = new HikariDataSource(config)) {
            Vacancy vacancy = Vacancy.over(pool, KEPT, TransactionSource.none());
            Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();

            Outcome outcome = vacancy.delete(HIVE, ODILE);
            vacancy.bulk()
                    .start(Selection.of("hive").where(Criteria.parse("hive_id = 2")), ODILE, BulkOptions.defaults());

            assertThat(outcome.total()).isEqualTo(3);
            assertThat(database.count("hive")).isEqualTo(1);
            assertThat(vacancy.bulk().list()).hasSize(1);
        }
    }

    @OnEveryEngine
    void whoeverIsCalledBackWorksInTheRunsOwnTransaction(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = Vacancy.over(database.source(), KEPT);

        vacancy.delete(HIVE, ODILE, Reporting.none().onRecord((record, connection) -> {
            try (PreparedStatement insert = connection.prepareStatement("insert into note values (7)")) {
                insert.executeUpdate();
            } catch (SQLException failure) {
                throw new IllegalStateException(failure);
            }
            assertThatThrownBy(connection::commit)
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("This connection is the run's");
        }));

        assertThat(database.rows("select note_id from note")).containsExactly("7");
        assertThatThrownBy(() -> vacancy.delete(
                        Selection.of("hive").key(2), ODILE, Reporting.none().onRecord((record, connection) -> {
                            try (PreparedStatement insert =
                                    connection.prepareStatement("insert into note values (8)")) {
                                insert.executeUpdate();
                            } catch (SQLException failure) {
                                throw new IllegalStateException(failure);
                            }
                            throw new IllegalStateException("the application changed its mind");
                        })))
                .hasMessageContaining("changed its mind");
        assertThat(database.rows("select note_id from note")).containsExactly("7");
        assertThat(database.count("hive")).isEqualTo(1);
    }

    /** Two transactions lock two records in opposite orders; the database ends one of them, with all that it had written. */
    @Test
    void aDeadlockThatEndsTheWholeTransactionIsToldAsThat() throws Exception {
        Database database = hives(Engine.MARIADB);
        Vacancy vacancy = Vacancy.over(database.source());
        ExecutorService other = Executors.newSingleThreadExecutor();
        try (Connection mine = database.connect();
                Connection theirs = database.connect()) {
            mine.setAutoCommit(false);
            theirs.setAutoCommit(false);
            // Much has been written there, so the database rather ends the other one.
            for (int id = 100; id < 500; id++) {
                execute(theirs, "insert into note values (" + id + ")");
            }
            execute(theirs, "update hive set name = 'y' where hive_id = 1");
            execute(mine, "insert into note values (1)");
            execute(mine, "update hive set name = 'x' where hive_id = 2");
            Future<?> waiting = other.submit(() -> {
                execute(theirs, "update hive set name = 'y' where hive_id = 2");
                theirs.commit();
                return null;
            });
            await().until(() -> !database.rows("select 1 from information_schema.processlist"
                            + " where info like 'update hive%' and time_ms > 100")
                    .isEmpty());
            Vacancy joined = vacancy.joining(mine);

            assertThatThrownBy(() -> joined.delete(HIVE, ODILE))
                    .isInstanceOfSatisfying(
                            TransactionEndedException.class,
                            ended -> assertThat(ended.code()).isEqualTo(FailureCode.TRANSACTION_ENDED));
            assertThatThrownBy(() -> joined.plan(HIVE, ODILE)).isInstanceOf(TransactionEndedException.class);

            mine.commit();
            waiting.get(10, TimeUnit.SECONDS);
            assertThat(database.rows("select note_id from note where note_id = 1"))
                    .as("what the application had written is gone, as was said")
                    .isEmpty();
            assertThat(database.count("hive")).isEqualTo(2);
        } finally {
            other.shutdownNow();
        }
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.executeUpdate(sql);
        }
    }
}
