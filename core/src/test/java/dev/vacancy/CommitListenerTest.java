package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Whoever listens is told what was committed, and nothing else. */
class CommitListenerTest {
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());

    private static Database hives(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "insert into hive values (1), (2), (3), (4), (5)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    /** Notes what it is told, and how many hives others see at that time. */
    private record Noting(Database database, List<String> heard) implements CommitListener {
        @Override
        public void deleted(Outcome outcome) {
            heard.add("deleted " + outcome.total() + ", left " + database.count("hive"));
        }

        @Override
        public void restored(RestoreOutcome outcome) {
            heard.add("restored " + outcome.counts() + ", there " + database.count("hive"));
        }

        @Override
        public void progressed(BulkRun run) {
            heard.add("progressed to " + run.done() + ", left " + database.count("hive"));
        }
    }

    private static Approval approval(Vacancy vacancy, Object key) {
        return Approval.of(vacancy.plan(Selection.of("hive").key(key), ODILE));
    }

    @OnEveryEngine
    void deletionsAndRestoresAreToldAfterTheirCommit(Engine engine) {
        Database database = hives(engine);
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = Vacancy.over(database.source(), BOOK).withListener(new Noting(database, heard));

        Outcome outcome = vacancy.run(approval(vacancy, 1));
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE)));

        assertThat(heard).containsExactly("deleted 1, left 4", "restored {hive=1}, there 5");
    }

    @OnEveryEngine
    void whatFailsIsNotToldAndAListenerThatFailsHindersNobody(Engine engine) {
        Database database = hives(engine);
        List<String> heard = new ArrayList<>();
        CommitListener failing = new CommitListener() {
            @Override
            public void deleted(Outcome outcome) {
                throw new IllegalStateException("no index to be reached");
            }
        };
        Vacancy vacancy =
                Vacancy.over(database.source(), BOOK).withListener(failing).withListener(new Noting(database, heard));
        Approval twice = approval(vacancy, 1);

        vacancy.run(twice);
        assertThatThrownBy(() -> vacancy.run(twice)).isInstanceOf(RuntimeException.class);

        assertThat(heard).containsExactly("deleted 1, left 4");
    }

    @OnEveryEngine
    void nobodyIsNotifiedOfAJoinedTransactionWhoseEndNobodyTells(Engine engine) throws Exception {
        Database database = hives(engine);
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = Vacancy.over(database.source(), BOOK).withListener(new Noting(database, heard));
        try (Connection connection = database.connect()) {
            connection.setTransactionIsolation(Connection.TRANSACTION_READ_COMMITTED);
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            joined.run(approval(joined, 2));
            connection.commit();
        }

        vacancy.run(approval(vacancy, 3));

        assertThat(heard).containsExactly("deleted 1, left 3");
    }

    /** Two transactions are open on the thread: what is done in one of them says nothing of the other's commit. */
    @Test
    void theEndOfAnotherTransactionIsNotTheEndOfTheJoinedOne() throws Exception {
        Database database = hives(Engine.H2);
        List<String> heard = new ArrayList<>();
        List<Runnable> afterCommit = new ArrayList<>();
        try (Connection managed = database.connect();
                Connection other = database.connect()) {
            managed.setAutoCommit(false);
            other.setAutoCommit(false);
            TransactionSource source = new TransactionSource() {
                @Override
                public Optional<Connection> open() {
                    return Optional.of(managed);
                }

                @Override
                public void afterCommit(Runnable task) {
                    afterCommit.add(task);
                }
            };
            Vacancy vacancy = Vacancy.over(database.source(), BOOK, source).withListener(new Noting(database, heard));

            vacancy.joining(other).run(approval(vacancy.joining(other), 2));
            other.rollback();
            assertThat(afterCommit).isEmpty();

            vacancy.joining(managed).run(approval(vacancy.joining(managed), 3));
            managed.commit();
        }

        assertThat(heard).isEmpty();
        assertThat(afterCommit).hasSize(1);
        afterCommit.get(0).run();
        assertThat(heard).containsExactly("deleted 1, left 4");
    }

    @OnEveryEngine
    void eachChunkOfABulkRunIsTold(Engine engine) {
        Database database = hives(engine);
        List<String> heard = new ArrayList<>();
        Vacancy vacancy = Vacancy.over(database.source(), BOOK).withListener(new Noting(database, heard));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        BulkOptions options = BulkOptions.defaults().chunk(2);
        BulkRun run = vacancy.bulk()
                .start(
                        Approval.inChunks(
                                vacancy.plan(Selection.of("hive").where(Criteria.parse("hive_id < 5")), ODILE)),
                        options);

        vacancy.bulk().work(run.runId(), options, Exemption.none(), progress -> {});

        assertThat(heard).containsExactly("progressed to 2, left 3", "progressed to 4, left 1");
    }
}
