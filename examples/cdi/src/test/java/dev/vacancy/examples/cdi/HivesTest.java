package dev.vacancy.examples.cdi;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.CommitListener;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import jakarta.enterprise.inject.se.SeContainer;
import jakarta.enterprise.inject.se.SeContainerInitializer;
import jakarta.transaction.Status;
import jakarta.transaction.TransactionManager;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class HivesTest {
    private static Database larkmoor(Engine engine) {
        return engine.database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "create table inspection (inspection_id integer primary key, hive_id integer not null,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "create table note (words varchar(20) not null)",
                        "insert into hive values (1), (2)",
                        "insert into inspection values (10, 1), (11, 1)");
    }

    private static SeContainer container(Database database) throws SQLException {
        try (Connection connection = database.connect()) {
            System.setProperty(Beans.URL, connection.getMetaData().getURL());
            System.setProperty(Beans.USER, connection.getMetaData().getUserName());
        }
        return SeContainerInitializer.newInstance().initialize();
    }

    /** A test that fails in the middle of a transaction fails alone. */
    @AfterEach
    void endTheTransaction() throws Exception {
        TransactionManager manager = com.arjuna.ats.jta.TransactionManager.transactionManager();
        if (manager.getStatus() != Status.STATUS_NO_TRANSACTION) {
            manager.rollback();
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void aHiveAndItsNoteGoTogetherOrNotAtAll(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        try (SeContainer container = container(database)) {
            Hives hives = container.select(Hives.class).get();

            assertThatThrownBy(() -> hives.giveUp(1, "far too long a note for such a book"))
                    .isInstanceOf(SQLException.class);
            assertThat(database.count("hive")).isEqualTo(2);
            assertThat(database.count("inspection")).isEqualTo(2);

            assertThat(hives.giveUp(1, "swarmed").total()).isEqualTo(3);
            assertThat(database.count("hive")).isEqualTo(1);
            assertThat(database.rows("select words from note")).containsExactly("swarmed");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void listenersHearOfItAfterTheCommitAndOnlyThen(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        try (SeContainer container = container(database)) {
            List<Long> heard = new ArrayList<>();
            Vacancy vacancy = container.select(Vacancy.class).get().withListener(new CommitListener() {
                @Override
                public void deleted(Outcome outcome) {
                    heard.add(outcome.total());
                }
            });
            TransactionManager transaction =
                    container.select(TransactionManager.class).get();

            transaction.begin();
            vacancy.delete(Selection.of("hive").key(1), By.program("hives"));
            transaction.rollback();
            assertThat(heard).isEmpty();
            assertThat(database.count("hive")).isEqualTo(2);

            transaction.begin();
            vacancy.delete(Selection.of("hive").key(1), By.program("hives"));
            assertThat(vacancy.plan(Selection.of("hive").key(1), By.program("hives"))
                            .selected())
                    .isZero();
            assertThat(heard).isEmpty();
            transaction.commit();
            assertThat(heard).containsExactly(3L);

            vacancy.delete(Selection.of("hive").key(2), By.program("hives"));
            assertThat(heard).containsExactly(3L, 1L);
            assertThat(database.count("hive")).isZero();
        }
    }

    /** What had begun of a deletion that is refused is taken back, and the transaction goes on. */
    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void aTransactionGoesOnAfterARefusal(Engine engine) throws Exception {
        Database database = larkmoor(engine)
                .run(
                        "create table frame (frame_id integer primary key, hive_id integer references hive (hive_id))",
                        "insert into frame values (1, 2)");
        try (SeContainer container = container(database)) {
            Vacancy vacancy = container.select(Vacancy.class).get();
            TransactionManager transaction =
                    container.select(TransactionManager.class).get();

            transaction.begin();
            assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(2), By.program("hives")))
                    .hasMessageContaining("frame");
            vacancy.delete(Selection.of("hive").key(1), By.program("hives"));
            transaction.commit();

            assertThat(database.rows("select hive_id from hive")).containsExactly("2");
        }
    }

    @Test
    void connectionsGoBackWhenTheirTransactionEnds() throws Exception {
        Database database = larkmoor(Engine.H2);
        try (SeContainer container = container(database)) {
            Vacancy vacancy = container.select(Vacancy.class).get();
            TransactionManager transaction =
                    container.select(TransactionManager.class).get();
            for (int time = 0; time < 30; time++) {
                transaction.begin();
                vacancy.plan(Selection.of("hive").key(1), By.program("hives"));
                transaction.commit();
            }
            assertThat(container.select(DataSource.class).get().getConnection().isValid(1))
                    .isTrue();
        }
    }
}
