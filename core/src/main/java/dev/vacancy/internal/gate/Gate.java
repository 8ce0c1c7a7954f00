package dev.vacancy.internal.gate;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Mode;
import dev.vacancy.Proposal;
import dev.vacancy.StalePlanException;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.rule.Consent;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * The one place where it is decided whether something may be carried out. Whatever is looked at is the plan that was made under lock, in the
 * transaction that carries it out; of what the caller brings only the answer counts, and only for the very same plan.
 *
 * @since 0.1
 */
public final class Gate {
    private final Permit permit;

    /**
     * Makes a gate.
     *
     * @param permit what whoever acts may do
     */
    public Gate(Permit permit) {
        this.permit = permit;
    }

    /**
     * What was agreed to for many transactions: of a bulk run, whose approval stands beside its records.
     *
     * @param scope what it is of; the request is the whole one
     * @param given what a person has given
     * @param colleague who agrees beside the one who asks
     */
    public record Standing(Scope scope, Consent given, Optional<By> colleague) {}

    /**
     * Lets through what was agreed to.
     *
     * @param approval the answer
     * @param mode the way in which it is carried out
     * @param now the plan as it is under lock
     * @param differences tells how it differs from the one that was agreed to
     * @return the proof
     * @throws StalePlanException when it is another plan by now
     * @throws dev.vacancy.BlockedException when records forbid it
     * @throws InvalidRequestException when the approval is of something else, or somebody hasn't agreed
     */
    public Passage pass(Approval approval, Mode mode, Gated now, Supplier<List<String>> differences) {
        requireMode(approval, mode);
        Scope agreed = ((Gated) approval.plan()).scope();
        requireSameDatabase(agreed, now.scope());
        requireSameRules(agreed, now.scope());
        requireSameRequest(agreed, now.scope());
        Proposal plan = now.proposal();
        if (!plan.fingerprint().equals(approval.fingerprint())) {
            throw new StalePlanException(differences.get());
        }
        now.proposal().refuseMode(mode);
        return pass(now, approval.given(), approval.colleague());
    }

    /**
     * Lets a bulk run begin. Its selection may have grown or shrunk as far as is tolerated, which is counted elsewhere.
     *
     * @param approval the answer
     * @param now the plan that was agreed to, with what it is of here and what is asked for here
     * @return what stands for all of its chunks
     * @throws InvalidRequestException when the approval is of something else, or somebody hasn't agreed
     */
    public Standing begin(Approval approval, Gated now) {
        requireMode(approval, Mode.IN_CHUNKS);
        Scope agreed = ((Gated) approval.plan()).scope();
        requireSameDatabase(agreed, now.scope());
        requireSameRules(agreed, now.scope());
        requireSameRequest(agreed, now.scope());
        requireAgreed(now, approval.given(), approval.colleague());
        permit.require(now.proposal());
        return new Standing(now.scope(), approval.given(), approval.colleague());
    }

    /**
     * Lets a bulk run begin that a program has decided on, where nobody has to be asked.
     *
     * @param now the plan as it is
     * @return what stands for all of its chunks
     * @throws InvalidRequestException when somebody would have to agree
     */
    public Standing beginUnasked(Gated now) {
        requireAgreed(now, Consent.NONE, Optional.empty());
        permit.require(now.proposal());
        return new Standing(now.scope(), Consent.NONE, Optional.empty());
    }

    /**
     * Lets a chunk of a bulk run through. Its request is a part of the whole one, by the lines of the run.
     *
     * @param standing what the run was approved with
     * @param now the chunk's plan as it is under lock
     * @return the proof
     * @throws dev.vacancy.BlockedException when records forbid it
     * @throws InvalidRequestException when the run is of another database or of other rules, or somebody hasn't agreed
     */
    public Passage passChunk(Standing standing, Gated now) {
        requireSameDatabase(standing.scope(), now.scope());
        requireSameRules(standing.scope(), now.scope());
        return pass(now, standing.given(), standing.colleague());
    }

    /**
     * Lets through what a program has decided, where nobody has to be asked.
     *
     * @param now the plan as it is under lock
     * @return the proof
     * @throws dev.vacancy.BlockedException when records forbid it
     * @throws InvalidRequestException when somebody would have to agree
     */
    public Passage passUnasked(Gated now) {
        now.proposal().refuseMode(Mode.AT_ONCE);
        return pass(now, Consent.NONE, Optional.empty());
    }

    private Passage pass(Gated now, Consent given, Optional<By> colleague) {
        now.proposal().refuseBlocked();
        requireAgreed(now, given, colleague);
        permit.require(now.proposal());
        return new Passage(now, colleague);
    }

    private static void requireMode(Approval approval, Mode mode) {
        if (approval.mode() != mode) {
            throw ofAnother(
                    "This was agreed to " + approval.mode() + ", and is to be done " + mode + ".",
                    "Ask about what is to be done.");
        }
    }

    private static void requireSameDatabase(Scope agreed, Scope now) {
        if (!agreed.database().equals(now.database())) {
            throw ofAnother(
                    "This approval is of another database than the one that is connected here.",
                    "Make the plan on this database and agree to it here.");
        }
    }

    private static void requireSameRules(Scope agreed, Scope now) {
        if (!agreed.rules().equals(now.rules())) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "The rules are others here than those that this was agreed to with.",
                    "Nothing was changed; make a new plan with these rules, or use those that it was made with.");
        }
    }

    private static void requireSameRequest(Scope agreed, Scope now) {
        if (!agreed.request().equals(now.request())) {
            throw ofAnother(
                    "This approval is of another request than the one that is to be carried out.",
                    "Look at the plan of this request and agree to it.");
        }
    }

    private static InvalidRequestException ofAnother(String problem, String remedy) {
        return new InvalidRequestException(FailureCode.APPROVAL_OF_ANOTHER, problem, "Nothing was changed. " + remedy);
    }

    private static void requireAgreed(Gated now, Consent given, Optional<By> colleague) {
        Consent demanded = now.demanded();
        if (demanded.compareTo(given) > 0) {
            throw new InvalidRequestException(
                    FailureCode.NOT_AGREED,
                    "By the rules a person is asked before this is done, and has to give "
                            + (demanded == Consent.YES ? "a yes" : "its " + demanded) + "; "
                            + (given == Consent.NONE ? "nobody was asked." : "the answer was only a " + given + "."),
                    "Put the question about the plan, and run what its answer gives.");
        }
        if (now.colleague() && colleague.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.NO_COLLEAGUE,
                    "By the rules a colleague has to agree to this as well.",
                    "Let somebody else look at the plan and agree, and say who it was.");
        }
    }
}
