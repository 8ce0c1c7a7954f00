package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.LockedException;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Children are inserted while their parents are deleted, by several writers at once. */
@Timeout(value = 120, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ConcurrencyTest {
    private static final int HIVES = 40;
    private static final int WRITERS = 3;
    private static final int ATTEMPTS = 200;
    private static final int THREADS = 16;

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "MARIADB"})
    void nothingIsOrphanedLostOrStuck(Engine engine) throws Exception {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table reading (reading_id int primary key, hive_id int not null, foreign key (hive_id)"
                                + " references hive (hive_id) on delete cascade)",
                        "create table photo (photo_id int primary key, hive_no int)",
                        "create index reading_by_hive on reading (hive_id)",
                        "create index photo_by_hive on photo (hive_no)");
        for (int hive = 1; hive <= HIVES; hive++) {
            database.run("insert into hive values (" + hive + ")");
        }
        RuleBook rules = RuleBook.bySchema().link("photo.hive_no", "hive").on("photo.hive_no", Clause.cascade());
        Vacancy vacancy = Vacancy.over(database.source(), rules);
        AtomicBoolean over = new AtomicBoolean();
        AtomicInteger inserted = new AtomicInteger();
        ExecutorService writers = Executors.newFixedThreadPool(WRITERS);
        List<Future<?>> writing = new ArrayList<>();
        for (int writer = 1; writer <= WRITERS; writer++) {
            int first = writer * 1_000_000;
            writing.add(writers.submit(() -> write(database, first, over, inserted)));
        }
        await("a photo of a writer").until(() -> inserted.get() > 0);

        for (int hive = 1; hive <= HIVES; hive++) {
            deleteUntilDone(vacancy, hive);
        }
        over.set(true);
        for (Future<?> writer : writing) {
            writer.get(30, TimeUnit.SECONDS);
        }
        writers.shutdown();

        assertThat(database.count("hive")).isZero();
        assertThat(database.count("reading")).isZero();
        assertThat(database.count("photo")).isZero();
        assertThat(inserted.get()).isPositive();
    }

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "MARIADB", "SQLITE"})
    void aChildOnAnUndeclaredLinkThatIsBeingWrittenIsNotPassedOver(Engine engine) throws Exception {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table photo (photo_id int primary key, hive_no int)",
                        "create index photo_by_hive on photo (hive_no)",
                        "insert into hive values (1), (2)",
                        "insert into photo values (1, 2)");
        RuleBook rules = RuleBook.bySchema().link("photo.hive_no", "hive").on("photo.hive_no", Clause.cascade());
        Vacancy vacancy = Vacancy.over(database.source(), rules);
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), By.user("odile")));
        try (Connection writer = database.connect();
                Statement statement = writer.createStatement()) {
            writer.setAutoCommit(false);
            statement.executeUpdate("insert into photo values (2, 1)");

            assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(LockedException.class);
            writer.commit();
        }

        assertThatThrownBy(() -> vacancy.run(approval))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("1 more of photo");
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @OnEveryEngine
    void ofManyThreadsThatWereAllowedTheSameOneDeletesIt(Engine engine) throws Exception {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table reading (reading_id int primary key, hive_id int not null, foreign key (hive_id)"
                                + " references hive (hive_id) on delete cascade)",
                        "insert into hive values (1), (2)",
                        "insert into reading values (1, 1), (2, 1), (3, 2)");
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), By.user("odile")));
        ExecutorService threads = Executors.newFixedThreadPool(THREADS);
        List<Future<Boolean>> runs = new ArrayList<>();
        for (int i = 0; i < THREADS; i++) {
            runs.add(threads.submit(() -> isRun(vacancy, approval)));
        }
        int done = 0;
        for (Future<Boolean> run : runs) {
            done += run.get(60, TimeUnit.SECONDS) ? 1 : 0;
        }
        threads.shutdown();

        assertThat(done).isEqualTo(1);
        assertThat(database.rows("select hive_id from hive")).containsExactly("2");
        assertThat(database.rows("select reading_id from reading")).containsExactly("3");
    }

    /** Whoever comes too late is told so, in whichever way it shows, and changes nothing. */
    private static boolean isRun(Vacancy vacancy, Approval approval) {
        try {
            return vacancy.run(approval).total() == 3;
        } catch (StalePlanException | LockedException late) {
            return false;
        }
    }

    /** Other writers make an approval stale, or hold what it needs; a new one follows until it comes through. */
    private static void deleteUntilDone(Vacancy vacancy, int hive) {
        for (int attempt = 1; ; attempt++) {
            try {
                Outcome outcome = vacancy.run(
                        Approval.of(vacancy.plan(Selection.of("hive").key(hive), By.user("odile"))));
                assertThat(outcome.counts()).containsEntry("hive", 1L);
                return;
            } catch (StalePlanException | LockedException meanwhile) {
                assertThat(attempt).as(meanwhile.getMessage()).isLessThan(ATTEMPTS);
            }
        }
    }

    private static void write(Database database, int first, AtomicBoolean over, AtomicInteger inserted) {
        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            for (int id = first; !over.get(); id++) {
                try {
                    int photos = writeChild(statement, id, 1 + id / 2 % HIVES);
                    connection.commit();
                    inserted.addAndGet(photos);
                } catch (SQLException refused) {
                    // The hive is gone, or this writer was chosen to end a deadlock: it is told, and nothing is lost.
                    connection.rollback();
                    assertThat(refused.getSQLState()).as(refused.getMessage()).matches("23.*|40.*");
                }
                Thread.sleep(5);
            }
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }

    /**
     * Writes a reading, whose link the database checks, or a photo of a hive that is there, which nobody checks after
     * that.
     *
     * @return how many photos were written
     */
    private static int writeChild(Statement statement, int id, int hive) throws SQLException {
        if (id % 2 == 0) {
            statement.executeUpdate("insert into reading values (" + id + ", " + hive + ")");
            return 0;
        }
        return statement.executeUpdate(
                "insert into photo (photo_id, hive_no) select " + id + ", hive_id from hive where hive_id = " + hive);
    }
}
