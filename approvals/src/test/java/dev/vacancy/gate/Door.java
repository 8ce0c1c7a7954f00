package dev.vacancy.gate;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Emptying;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.rule.RuleBook;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import java.util.Set;
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
        String token = Approvals.of(vacancy, Stage.KEYS).issue(vacancy.plan(hive(), stage.by()));
        return running -> Approvals.of(running, Stage.KEYS).redeem(token, hive(), stage.by(), "yes");
    }),
    SIGNED_IN_CHUNKS("Approvals.redeem", (vacancy, stage) -> {
        String token = Approvals.of(vacancy, Stage.KEYS).issue(Question.aboutChunks(vacancy.plan(hive(), stage.by())));
        return running -> Door.work(
                running,
                Approvals.of(running, Stage.KEYS)
                        .redeem(token, hive(), stage.by(), "yes")
                        .runId());
    }),
    SIGNED_EMPTYING("Approvals.redeem", (vacancy, stage) -> {
        Emptying all = Emptying.of("reading");
        String token = Approvals.of(vacancy, Stage.KEYS).issue(vacancy.plan(all, stage.by()));
        return running -> Approvals.of(running, Stage.KEYS).redeem(token, all, stage.by(), "2");
    }),
    SIGNED_ERASURE("Approvals.redeem", (vacancy, stage) -> {
        Selection hard = hive().hard();
        String token = Approvals.of(vacancy, Stage.KEYS).issue(Question.aboutErasing(vacancy.plan(hard, stage.by())));
        return running -> Approvals.of(running, Stage.KEYS).redeem(token, hard, stage.by(), "yes");
    }),
    SIGNED_ERASURE_FROM_THE_TRAIL("Approvals.redeemErasure", (vacancy, stage) -> {
        String token =
                Approvals.of(vacancy, Stage.KEYS).issue(vacancy.history().planErasure("hive", Stage.GONE, stage.by()));
        return running -> Approvals.of(running, Stage.KEYS).redeemErasure(token, "hive", Stage.GONE, stage.by(), "yes");
    }),
    SIGNED_MASKING_FROM_THE_TRAIL("Approvals.redeemMasking", (vacancy, stage) -> {
        String token = Approvals.of(vacancy, Stage.KEYS).issue(vacancy.history().planMasking("fen five", stage.by()));
        return running -> Approvals.of(running, Stage.KEYS).redeemMasking(token, "fen five", stage.by(), "2");
    }),
    SIGNED_TRACE("Approvals.redeemTrace", (vacancy, stage) -> {
        String token =
                Approvals.of(vacancy, Stage.KEYS).issue(vacancy.plan(vacancy.trace("hive", Stage.MARKED), stage.by()));
        return running -> Approvals.of(running, Stage.KEYS).redeemTrace(token, "hive", Stage.MARKED, stage.by(), "yes");
    }),
    TRACE("Vacancy.eraseTrace", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.plan(vacancy.trace("hive", Stage.MARKED), stage.by()));
        return running -> running.eraseTrace(approval);
    }),
    RETIREMENT("Vacancy.retire", (vacancy, stage) -> {
        Retirement wood = Retirement.ofColumn("shelf", "wood");
        Approval approval = Question.about(vacancy.plan(wood, stage.by()))
                .answer("shelf.wood")
                .orElseThrow();
        return running -> running.retire(approval);
    }),
    SIGNED_RESTORE("Approvals.redeemRestore", (vacancy, stage) -> {
        String token =
                Approvals.of(vacancy, Stage.KEYS).issue(vacancy.history().planRestore(stage.earlier(), stage.by()));
        return running -> Approvals.of(running, Stage.KEYS).redeemRestore(token, stage.earlier(), stage.by());
    }),
    BULK("BulkRuns.start", (vacancy, stage) -> {
        Approval approval = Approval.inChunks(vacancy.plan(hives(), stage.by()));
        return running -> Door.work(
                running, running.bulk().start(approval, BulkOptions.defaults()).runId());
    }),
    BULK_UNASKED(
            "BulkRuns.start",
            (vacancy, stage) -> running -> Door.work(
                    running,
                    running.bulk()
                            .start(hives(), stage.by(), BulkOptions.defaults())
                            .runId())),
    CHUNK("BulkRuns.workChunk", (vacancy, stage) -> {
        UUID run = vacancy.bulk()
                .start(Approval.inChunks(vacancy.plan(hives(), stage.by())), BulkOptions.defaults())
                .runId();
        return running -> running.bulk().workChunk(run, BulkOptions.defaults(), Exemption.none(), each -> {});
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
                Approval.ofErasing(vacancy.plan(Selection.of("hive").key(1).hard(), stage.by()));
        return running -> running.erase(approval);
    }),
    ERASURE_FROM_THE_TRAIL("History.erase", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.history().planErasure("hive", Stage.GONE, stage.by()));
        return running -> running.history().erase(approval);
    }),
    MASKING_FROM_THE_TRAIL("History.mask", (vacancy, stage) -> {
        Approval approval = Approval.of(vacancy.history().planMasking("fen five", stage.by()));
        return running -> running.history().mask(approval);
    }),
    MASKING_FROM_THE_TRAIL_UNASKED(
            "History.mask", (vacancy, stage) -> running -> running.history().mask("fen five", stage.by())),
    ERASURE_FROM_THE_TRAIL_UNASKED(
            "History.erase", (vacancy, stage) -> running -> running.history().erase("hive", Stage.GONE, stage.by())),
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
        /** What approvals are signed with. */
        ApprovalKeys KEYS = ApprovalKeys.signingWith("one", new byte[32]);

        /** A record of hives that is gone for good. */
        String GONE = "5";

        /** A record of hives that is soft-deleted, and in no bulk run. */
        String MARKED = "4";

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
        return !name().contains("UNASKED");
    }

    /** Whether records come back by it. */
    boolean restores() {
        return name().contains("RESTORE");
    }

    /** Whether only the audit trail is changed by it. */
    boolean leavesRecords() {
        return name().contains("FROM_THE_TRAIL");
    }

    /** Whether a table is emptied by it, whose question always wants a number. */
    boolean empties() {
        return name().contains("EMPTYING");
    }

    /** Whether it begins a bulk run or is a part of one. */
    boolean isOfBulkRun() {
        return Set.of(BULK, BULK_UNASKED, CHUNK, SIGNED_IN_CHUNKS).contains(this);
    }

    private static void work(Vacancy vacancy, UUID run) {
        vacancy.bulk().work(run, BulkOptions.defaults(), Exemption.none(), each -> {});
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
