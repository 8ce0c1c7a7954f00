package dev.vacancy.bench;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import javax.sql.DataSource;

/** A way to delete the hives between two numbers, with all that hangs on them. */
enum Contender {
    /** Vacancy, in one transaction. */
    VACANCY("Vacancy run") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            Plan[] plan = new Plan[1];
            stage.time(PLAN, () -> plan[0] = plan(stage.vacancy(), first, last));
            stage.time(label(), () -> stage.vacancy().run(Approval.of(plan[0])));
        }
    },

    /** Vacancy, which writes down each record as it was. */
    TRAIL("Vacancy run, with trail") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            RuleBook rules = RuleBook.bySchema().trail(Trail.defaults());
            Ddl.of(stage.source(), rules).apply();
            Vacancy vacancy = Vacancy.over(stage.source(), rules);
            Plan plan = plan(vacancy, first, last);
            stage.time(label(), () -> vacancy.run(Approval.of(plan)));
        }
    },

    /** Vacancy brings back what it has deleted with a trail; then it goes again, as everybody's has to be gone. */
    RESTORE("Vacancy restore") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            RuleBook rules = RuleBook.bySchema().trail(Trail.defaults());
            Ddl.of(stage.source(), rules).apply();
            Vacancy vacancy = Vacancy.over(stage.source(), rules);
            Outcome gone = vacancy.run(Approval.of(plan(vacancy, first, last)));
            RestorePlan back = vacancy.history().planRestore(gone.runId(), WHO);
            stage.time(label(), () -> vacancy.history().restore(Approval.of(back)));
            vacancy.run(Approval.of(plan(vacancy, first, last)));
        }
    },

    /** All at once by a program that has decided: no plan first. */
    DIRECT("Vacancy delete") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            stage.time(
                    label(),
                    () -> stage.vacancy()
                            .delete(
                                    Selection.of("hive")
                                            .where(Criteria.parse("hive_id between " + first + " and " + last)),
                                    WHO));
        }
    },

    /** Vacancy, in chunks, each committed by itself. */
    BULK("Vacancy bulk run") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            Ddl.of(stage.source(), Ddl.Part.BULK_RUNS).apply();
            Approval approval = Approval.inChunks(plan(stage.vacancy(), first, last));
            BulkOptions options = BulkOptions.defaults();
            stage.time(label(), () -> {
                var run = stage.vacancy().bulk().start(approval, options);
                stage.vacancy().bulk().work(run.runId(), options, Exemption.none(), progress -> {});
            });
        }
    },

    /** One hive after the other through Vacancy, planned and run. */
    ONE_BY_ONE("Vacancy plan and run, hive by hive") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            stage.time(label(), () -> {
                for (int hive = first; hive <= last; hive++) {
                    Plan plan = stage.vacancy().plan(Selection.of("hive").key(hive), WHO);
                    stage.vacancy().run(Approval.of(plan));
                }
            });
        }
    },

    /** One hive after the other by a program that has decided. */
    DIRECT_ONE_BY_ONE("Vacancy delete, hive by hive") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            stage.time(label(), () -> {
                for (int hive = first; hive <= last; hive++) {
                    stage.vacancy().delete(Selection.of("hive").key(hive), WHO);
                }
            });
        }
    },

    /** What somebody who knows writes by hand: a statement for each table, children first. */
    EXPERT("SQL by hand") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            try (Connection connection = stage.source().getConnection()) {
                connection.setAutoCommit(false);
                stage.time(label(), () -> {
                    for (String statement : BY_HAND) {
                        update(connection, statement, first, last);
                    }
                    connection.commit();
                });
            }
        }
    },

    /** The database's own ON DELETE CASCADE does it, told by one statement. */
    OWN_CASCADE("own cascade") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            try (Connection connection = stage.source().getConnection()) {
                connection.setAutoCommit(false);
                stage.time(label(), () -> {
                    update(connection, "delete from hive where hive_id between ? and ?", first, last);
                    connection.commit();
                });
            }
        }
    },

    /** The database's own ON DELETE CASCADE, with a trigger that writes down the same of each record. */
    ROW_TRIGGER("own cascade, with row trigger") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            try (Connection connection = stage.source().getConnection()) {
                try (Statement statement = connection.createStatement()) {
                    for (String sql : WITNESS) {
                        statement.execute(sql);
                    }
                }
                connection.setAutoCommit(false);
                stage.time(label(), () -> {
                    update(connection, "delete from hive where hive_id between ? and ?", first, last);
                    connection.commit();
                });
            }
        }

        /** Triggers are written in another language on each database. */
        @Override
        boolean runsOn(String store) {
            return store.equals("PostgreSQL");
        }
    },

    /** One hive after the other by plain JDBC, the database's own cascade doing the rest. */
    ONE_BY_ONE_OWN("own cascade, hive by hive") {
        @Override
        void delete(Stage stage, int first, int last) throws SQLException {
            stage.time(label(), () -> {
                for (int hive = first; hive <= last; hive++) {
                    try (Connection connection = stage.source().getConnection()) {
                        update(connection, "delete from hive where hive_id between ? and ?", hive, hive);
                    }
                }
            });
        }
    };

    /** The part of a run's work that comes before anybody is asked. */
    private static final String PLAN = "Vacancy plan";

    private static final By WHO = By.program("bench").because("measured");

    private static final List<String> BY_HAND = List.of(
            "delete from frame_check where inspection_id in"
                    + " (select inspection_id from inspection where hive_id between ? and ?)",
            "delete from inspection where hive_id between ? and ?",
            "delete from reading where hive_id between ? and ?",
            "delete from treatment where hive_id between ? and ?",
            "delete from hive where hive_id between ? and ?");

    private static final List<String> WITNESS = witness();

    private static List<String> witness() {
        List<String> statements = new ArrayList<>();
        statements.add(
                "create table if not exists witness (place bigint generated always as identity primary key,"
                        + " table_name varchar(200) not null, gone_at timestamp not null default now(), record jsonb not null)");
        statements.add(
                "create or replace function witness() returns trigger language plpgsql as $$ begin"
                        + " insert into witness (table_name, record) values (tg_table_name, to_jsonb(old)); return old; end $$");
        for (String table : List.of("hive", "inspection", "frame_check", "reading", "treatment")) {
            statements.add("drop trigger if exists witness on " + table);
            statements.add(
                    "create trigger witness before delete on " + table + " for each row execute function witness()");
        }
        return List.copyOf(statements);
    }

    private final String label;

    Contender(String label) {
        this.label = label;
    }

    String label() {
        return label;
    }

    /** Every label that is timed, in the order in which pages and plots tell them. */
    static List<String> labels() {
        List<String> labels = new ArrayList<>(List.of(PLAN));
        Arrays.stream(values()).map(Contender::label).forEach(labels::add);
        return List.copyOf(labels);
    }

    /** Whether it takes as long for each record as for the first, so that many of them take too long to wait for. */
    boolean isOneByOne() {
        return this == ONE_BY_ONE || this == ONE_BY_ONE_OWN || this == DIRECT_ONE_BY_ONE;
    }

    /** Whether it can be measured on a database. */
    boolean runsOn(String store) {
        return !store.isEmpty();
    }

    /** Deletes hives, timing what counts. */
    abstract void delete(Stage stage, int first, int last) throws SQLException;

    private static Plan plan(Vacancy vacancy, int first, int last) {
        Criteria hives = Criteria.column("hive_id").between(first, last);
        return vacancy.plan(Selection.of("hive").where(hives), WHO);
    }

    private static void update(Connection connection, String sql, int first, int last) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            statement.setInt(1, first);
            statement.setInt(2, last);
            statement.executeUpdate();
        }
    }

    /** Where a contender works: fresh data, the library over it, and the watch. */
    interface Stage {
        DataSource source();

        Vacancy vacancy();

        void time(String label, Task task) throws SQLException;
    }

    /** What is timed. */
    @FunctionalInterface
    interface Task {
        void run() throws SQLException;
    }
}
