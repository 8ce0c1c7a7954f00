package dev.vacancy.gate;

import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.ApprovalKeys;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.criteria.Selection;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Emptying;
import dev.vacancy.plan.Plan;
import dev.vacancy.rule.RuleBook;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import java.util.UUID;
import java.util.function.BiFunction;
import java.util.function.Consumer;

/** Each way in which records can be changed, from what somebody agrees to with one Vacancy to what is carried out with another. */
@SuppressWarnings("ImmutableEnumChecker") // each constant is a function of nothing that changes
enum Door {
    RUN("Vacancy.run", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.plan(hive(), stage.by()));
        return running -> running.run(approval);
    }),
    JOINED("Vacancy.run", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.plan(hive(), stage.by()));
        return running ->
                stage.inTransaction(connection -> running.joining(connection).run(approval));
    }),
    MANAGED("Vacancy.run", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.plan(hive(), stage.by()));
        return running -> stage.inTransaction(connection ->
                stage.allowed(stage.over(stage.rules(), Door.open(connection))).run(approval));
    }),
    UNASKED("Vacancy.delete", (vacancy, stage) -> running -> running.delete(hive(), stage.by())),
    UNASKED_AND_JOINED(
            "Vacancy.delete",
            (vacancy, stage) -> running -> stage.inTransaction(
                    connection -> running.joining(connection).delete(hive(), stage.by()))),
    SIGNED("Approvals.redeem", (vacancy, stage) -> {
        ApprovalKeys keys = ApprovalKeys.signingWith("one", new byte[32]);
        Plan plan = vacancy.plan(hive(), stage.by());
        String token = vacancy.approvals(keys).issue(plan);
        return running -> running.approvals(keys).redeem(token, hive(), stage.by(), "yes");
    }),
    BULK("BulkRuns.start", (vacancy, stage) -> {
        Approval approval = Approval.inChunks(vacancy.plan(hives(), stage.by()));
        return running -> Door.work(
                running, running.bulk().start(approval, BulkOptions.usual()).runId());
    }),
    BULK_UNASKED(
            "BulkRuns.start",
            (vacancy, stage) -> running -> Door.work(
                    running,
                    running.bulk()
                            .start(hives(), stage.by(), BulkOptions.usual())
                            .runId())),
    CHUNK("BulkRuns.workChunk", (vacancy, stage) -> {
        UUID run = vacancy.bulk()
                .start(Approval.inChunks(vacancy.plan(hives(), stage.by())), BulkOptions.usual())
                .runId();
        return running -> running.bulk().workChunk(run, BulkOptions.usual(), Exemption.none(), each -> {});
    }),
    PURGE("Vacancy.run", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.plan(
                Selection.of("hive").where(Criteria.parse("hive_id = 3")).purging(), stage.by()));
        return running -> running.run(approval);
    }),
    EMPTYING("Vacancy.run", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.plan(Emptying.of("reading"), stage.by()));
        return running -> running.run(approval);
    }),
    ERASURE("Vacancy.erase", (vacancy, stage) -> {
        Approval approval =
                Approval.ofErasing(vacancy.plan(Selection.of("hive").key(1).forGood(), stage.by()));
        return running -> running.erase(approval);
    }),
    RESTORE("History.restore", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.history().planRestore(stage.earlier(), stage.by()));
        return running -> running.history().restore(approval);
    }),
    RESTORE_IN_PORTIONS("History.restore", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.history().planRestore(stage.earlier(), stage.by()));
        return running -> running.history().restore(approval, 1, each -> {});
    });

    private final String method;
    private final BiFunction<Vacancy, Stage, Consumer<Vacancy>> agreeing;

    Door(String method, BiFunction<Vacancy, Stage, Consumer<Vacancy>> agreeing) {
        this.method = method;
        this.agreeing = agreeing;
    }

    /** What stands behind the doors. */
    interface Stage {
        /** Who acts. */
        By by();

        /** The rules of those who carry out. */
        RuleBook rules();

        /** A run that can be undone. */
        UUID earlier();

        /** Another Vacancy on the same database. */
        Vacancy over(RuleBook rules, TransactionSource source);

        /** The same as far as whoever carries out may. */
        Vacancy allowed(Vacancy vacancy);

        /** Does something in a transaction that is committed afterwards. */
        void inTransaction(Consumer<Connection> work);
    }

    private static Selection hive() {
        return Selection.of("hive").key(1);
    }

    private static Selection hives() {
        return Selection.of("hive").where(Criteria.parse("hive_id < 3"));
    }

    /** The method of the public API that it is. */
    String method() {
        return method;
    }

    /** Agrees to something, and returns how it is carried out. */
    Consumer<Vacancy> agreed(Vacancy vacancy, Stage stage) {
        return agreeing.apply(vacancy, stage);
    }

    /** Whether somebody agrees beforehand, so that something can be different by then. */
    boolean hasApproval() {
        return this != UNASKED && this != UNASKED_AND_JOINED && this != BULK_UNASKED;
    }

    /** Whether records come back by it. */
    boolean restores() {
        return this == RESTORE || this == RESTORE_IN_PORTIONS;
    }

    private static void work(Vacancy vacancy, UUID run) {
        vacancy.bulk().work(run, BulkOptions.usual(), Exemption.none(), each -> {});
    }

    private static TransactionSource open(Connection connection) {
        return new TransactionSource() {
            @Override
            public Optional<Connection> open() {
                return Optional.of(connection);
            }

            @Override
            public void afterCommit(Runnable task) {
                task.run();
            }
        };
    }

    /** Runs work in a transaction on a connection, whatever comes of it. */
    static void committing(Connection connection, Consumer<Connection> work) throws SQLException {
        connection.setAutoCommit(false);
        try {
            work.accept(connection);
        } finally {
            connection.commit();
        }
    }
}
