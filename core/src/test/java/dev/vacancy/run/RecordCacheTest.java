package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.engine.ChangedRecords;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.engine.RecordCache;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What an application holds of records is written before anything is read, and forgotten once it isn't true any more. */
class RecordCacheTest {
    private static final By ODILE = By.user("odile");

    private final Database database = dev.vacancy.testing.Engine.H2
            .database()
            .run(
                    "create table apiary (apiary_id integer primary key)",
                    "create table hive (hive_id integer primary key, apiary_id integer references apiary)",
                    "create table reading (reading_id integer primary key, hive_id integer references hive)",
                    "insert into apiary values (1), (2)",
                    "insert into hive values (10, 1), (11, 1), (20, 2)",
                    "insert into reading values (100, 10), (101, 20)");

    private final List<String> events = new ArrayList<>();

    /** Holds hives. */
    private class Hives implements RecordCache {
        @Override
        public void flush() {
            events.add("flush");
        }

        @Override
        public Collection<Table> held(Catalog catalog) {
            return List.of(catalog.table("hive"));
        }

        @Override
        public void forget(ChangedRecords changed, Catalog catalog) {
            events.add("forget " + changed.gone().get("hive") + " "
                    + changed.changed().get("hive"));
        }

        @Override
        public void forgetShared(ChangedRecords changed, Catalog catalog) {
            events.add("shared");
        }
    }

    private Vacancy vacancy(RecordCache cache) {
        RuleBook rules = RuleBook.bySchema()
                .on("hive.apiary_id", Clause.cascade().where("hive_id < 11"), Clause.detach())
                .on("reading.hive_id", Clause.cascade());
        return Engine.of(Vacancy.over(database.source(), rules))
                .withCache(cache)
                .entry();
    }

    @Test
    void withoutATransactionNothingIsFlushedAndAllIsForgottenOnce() {
        Outcome outcome = vacancy(new Hives()).delete(Selection.of("apiary").key(1), ODILE);

        assertThat(events).containsExactly("forget [10] [11]", "shared");
        assertThat(outcome.keys()).isEmpty();
        assertThat(outcome.changedKeys()).isEmpty();
    }

    @Test
    void inATransactionItIsFlushedBeforeEachLook() throws SQLException {
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy(new Hives()).joining(connection);
            Approval approval = Approval.of(joined.plan(Selection.of("apiary").key(1), ODILE));
            assertThat(events).containsExactly("flush");
            events.clear();

            joined.run(approval);

            assertThat(events).startsWith("flush").endsWith("forget [10] [11]", "shared");
            connection.rollback();
        }
    }

    @Test
    void aWholeTableIsForgottenWithoutKeys() {
        Vacancy vacancy = vacancy(new Hives());

        vacancy.run(Approval.of(vacancy.plan(Emptying.of("reading"), ODILE)));

        assertThat(events).containsExactly("forget null null", "shared");
    }

    @Test
    void oneThatFailsHindersNothingThatIsCommitted() throws SQLException {
        RecordCache failing = new Hives() {
            @Override
            public void forget(ChangedRecords changed, Catalog catalog) {
                throw new IllegalStateException("out of order");
            }
        };

        assertThat(vacancy(failing).delete(Selection.of("apiary").key(1), ODILE).selected())
                .isEqualTo(1);
        assertThat(database.count("apiary")).isEqualTo(1);
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            assertThatThrownBy(() -> vacancy(failing)
                            .joining(connection)
                            .delete(Selection.of("apiary").key(2), ODILE))
                    .hasMessage("out of order");
            connection.rollback();
        }
        assertThat(database.count("apiary")).isEqualTo(1);
    }
}
