package dev.vacancy.internal.restoring;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Mode;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.running.RunParticipant;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.SoughtText;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.UUID;
import java.util.function.Function;

/**
 * The doors by which something is taken out of the trail: an erasure, a masking.
 *
 * @param transactions where plans are made
 * @param gate lets through what was agreed to
 * @param tables the trail's
 * @param writing begins a transaction that writes a run
 */
record ContentRemoval(
        Transactions transactions, Gate gate, TrailTables tables, Erasure erasure, Masking masking, Writing writing) {
    /** Begins a transaction, and finds out what became of it should its answer be lost. */
    @FunctionalInterface
    interface Writing {
        <T> T write(String what, UUID run, RunParticipant participant, Work<T> work);
    }

    /** What is done once a plan was made under lock. */
    @FunctionalInterface
    private interface CarryingOut<P extends Gated> {
        long by(Passage passage, P plan, Connection connection, UUID run) throws SQLException;
    }

    ErasurePlan planErasure(Table table, String key, By by) {
        return transactions.reading(connection -> erasure.plan(connection, table, key, by));
    }

    long erase(Approval approval, RunParticipant participant) {
        ErasurePlan agreed = HistoryRequests.erasure(approval);
        return erase(
                erasure.table(agreed.table()),
                agreed.key(),
                agreed.by(),
                participant,
                now -> gate.pass(
                        approval,
                        Mode.AT_ONCE,
                        now,
                        () -> HistoryRequests.differing("entries of the trail", now.entries(), agreed.entries())));
    }

    long erase(Table table, String key, By by) {
        return erase(table, key, by, RunParticipant.NOBODY, gate::passUnasked);
    }

    private long erase(
            Table table, String key, By by, RunParticipant participant, Function<PlannedErasure, Passage> through) {
        return underLock(
                "erase from the audit trail",
                participant,
                connection -> erasure.plan(connection, table, key, by),
                through,
                (passage, now, connection, run) -> erasure.carryOut(passage, now, connection, now.table(), key, run));
    }

    MaskingPlan planMasking(SoughtText sought, By by) {
        return transactions.reading(connection -> masking.plan(connection, sought, by));
    }

    long mask(Approval approval, RunParticipant participant) {
        if (!(approval.plan() instanceof MaskingPlan agreed)) {
            throw ofAnother("This approval is of no masking.", "Plan the masking by planMasking");
        }
        return mask(
                new SoughtText(agreed.text()),
                agreed.by(),
                participant,
                now -> gate.pass(
                        approval,
                        Mode.AT_ONCE,
                        now,
                        () -> HistoryRequests.differing("places of the trail", now.total(), agreed.total())));
    }

    long mask(SoughtText sought, By by) {
        return mask(sought, by, RunParticipant.NOBODY, gate::passUnasked);
    }

    private long mask(SoughtText sought, By by, RunParticipant participant, Function<PlannedMasking, Passage> through) {
        return underLock(
                "mask in the audit trail",
                participant,
                connection -> masking.plan(connection, sought, by),
                through,
                masking::carryOut);
    }

    private <P extends Gated> long underLock(
            String what,
            RunParticipant participant,
            Work<P> planning,
            Function<P, Passage> through,
            CarryingOut<P> doing) {
        UUID run = RunNumber.newId();
        return writing.write(what, run, participant, connection -> {
            participant.before(connection);
            tables.beginWriting(connection);
            new Chain(tables).lock(connection);
            P now = planning.on(connection);
            long done = doing.by(through.apply(now), now, connection, run);
            participant.after(connection, run, now.proposal());
            return done;
        });
    }

    private static InvalidRequestException ofAnother(String problem, String remedy) {
        return new InvalidRequestException(FailureCode.APPROVAL_OF_ANOTHER, problem, remedy + ", and agree to that.");
    }
}
