package dev.vacancy.approvals;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Mode;
import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.Question;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import dev.vacancy.internal.engine.Operations;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.running.Difference;
import dev.vacancy.internal.running.RedeemedApprovals;
import dev.vacancy.internal.running.Redeeming;
import dev.vacancy.internal.running.StoredReceipt;
import dev.vacancy.internal.running.TakenException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.function.BiFunction;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Issues approvals that travel, and redeems each once. */
final class Redemption {
    private static final Logger LOG = LoggerFactory.getLogger(Redemption.class);

    private final ApprovalKeys keys;
    private final RedeemedApprovals redeemed;
    private final Clock clock;
    private final Duration lockWait;

    /**
     * Makes it ready.
     *
     * @param keys what signs
     * @param operations keep which approvals were redeemed
     */
    Redemption(ApprovalKeys keys, Operations operations) {
        this.keys = keys;
        this.redeemed = operations.redeemed();
        this.clock = operations.clock();
        this.lockWait = operations.limits().lockWait();
    }

    /**
     * Signs an approval.
     *
     * @param question what will have been agreed to when it comes back
     * @return it in the compact form of a JWS (RFC 7515, section 7.1)
     */
    public String issue(Question question) {
        Proposal plan = question.plan();
        Scope scope = ((Gated) plan).scope();
        return new Token(
                        UUID.randomUUID().toString(),
                        plan.by().actor(),
                        database(scope),
                        scope.rules(),
                        scope.request(),
                        question.mode(),
                        plan.fingerprint(),
                        plan.counts(),
                        clock.instant().truncatedTo(ChronoUnit.SECONDS).plus(keys.lasting()),
                        Optional.empty())
                .signed(keys);
    }

    /**
     * Reads an approval that came back.
     *
     * @param text what came
     * @return the approval
     */
    public Token read(String text) {
        return Token.read(text, keys, clock.instant());
    }

    /**
     * Reads an approval that came back, and holds it against the request that it is said to be for. What came of another one isn't told here.
     *
     * @param text what came
     * @param request the digest of what is asked for
     * @param words the same in words
     * @return the approval
     */
    public Token read(String text, String request, String words) {
        Token token = read(text);
        if (!token.request().equals(request)) {
            throw ofAnother(
                    "This approval is of another request than " + words + ".",
                    "Look at the plan of that and agree to it.");
        }
        return token;
    }

    /**
     * Adds a colleague who has looked at the plan as well.
     *
     * @param token the approval
     * @param seen the plan that they have seen
     * @return the approval of both
     */
    public String agree(Token token, Proposal seen) {
        String other = seen.by().actor();
        if (seen.by().isSameAs(By.user(token.actor()))) {
            throw new InvalidRequestException(
                    FailureCode.NOT_AGREED,
                    other + " asks for this and can't agree to it as a colleague.",
                    "Let somebody else look at the plan and agree.");
        }
        requireSame(token, seen);
        return token.agreedBy(other).signed(keys);
    }

    /**
     * Redeems an approval, or tells what came of it when it was redeemed before.
     *
     * @param token the approval
     * @param by who sends it
     * @param answer what they said to the question; null where they weren't asked for more than to send it
     * @param planning makes the plan as it is now
     * @param running runs it and keeps what came of it
     * @return what came of it
     */
    public Receipt redeem(
            Token token,
            By by,
            String answer,
            Supplier<? extends Proposal> planning,
            BiFunction<Approval, Redeeming, StoredReceipt> running) {
        requireActor(token, by);
        redeemed.require();
        Optional<Receipt> before = find(token);
        if (before.isPresent()) {
            return before.get();
        }
        Proposal plan;
        try {
            plan = planning.get();
            requireActor(token, plan.by());
            requireSame(token, plan);
        } catch (VacancyException changed) {
            // Somebody else may have redeemed it since it was looked for, which changes all that is planned.
            return find(token).orElseThrow(() -> changed);
        }
        Approval approval = answered(question(plan, token.mode()), answer);
        if (token.colleague().isPresent()) {
            approval = approval.agreedBy(By.user(token.colleague().get()));
        }
        return once(token, approval, running);
    }

    /** Of two who send it at once the database lets one wait, or refuses it at once; the latter looks again until it may. */
    private Receipt once(Token token, Approval approval, BiFunction<Approval, Redeeming, StoredReceipt> running) {
        Instant end = Instant.now().plus(lockWait);
        while (true) {
            try {
                StoredReceipt receipt = running.apply(approval, new Redeeming(token.id(), token.expiresAt()));
                forgetOld();
                return Receipt.of(receipt, token.mode(), false);
            } catch (TakenException taken) {
                Optional<Receipt> before = find(token);
                if (before.isPresent()) {
                    return before.get();
                }
                if (!taken.isPassing() || Instant.now().isAfter(end)) {
                    throw taken.failure();
                }
                pause();
            }
        }
    }

    private static void pause() {
        try {
            TimeUnit.MILLISECONDS.sleep(20);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }

    private Optional<Receipt> find(Token token) {
        return redeemed.find(token.id()).map(receipt -> Receipt.of(receipt, token.mode(), true));
    }

    /** To send an approval that was asked for is a yes; where more than that is asked, it has to be sent along. */
    private static Approval answered(Question question, String answer) {
        return question.answer(question.typed().isPresent() ? answer : "yes")
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.NOT_AGREED,
                        question.text() + " was answered with " + (answer == null ? "nothing" : "'" + answer + "'")
                                + ".",
                        "Answer with '" + question.typed().orElse("yes") + "' to do so."));
    }

    private static Question question(Proposal plan, Mode mode) {
        return switch (mode) {
            case AT_ONCE -> Question.about(plan);
            case IN_CHUNKS -> Question.aboutChunks((Plan) plan);
            case ERASING -> Question.aboutErasing((Plan) plan);
        };
    }

    private static void requireActor(Token token, By by) {
        if (!token.actor().equals(by.actor())) {
            throw ofAnother(
                    "This approval is one of " + token.actor() + " and not of " + by.actor() + ".",
                    "Look at the plan and agree to it yourself.");
        }
    }

    private static InvalidRequestException ofAnother(String problem, String remedy) {
        return new InvalidRequestException(FailureCode.APPROVAL_OF_ANOTHER, problem, remedy);
    }

    private static void requireSame(Token token, Proposal plan) {
        Scope now = ((Gated) plan).scope();
        if (!token.database().equals(database(now))) {
            throw ofAnother(
                    "This approval is of another database than the one that is connected here.",
                    "Make the plan on this database and agree to it here.");
        }
        if (!token.request().equals(now.request())) {
            throw ofAnother(
                    "This approval is of another request than the one that it came with.",
                    "Look at the plan of that request and agree to it.");
        }
        if (!token.rules().equals(now.rules())) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "The rules are others here than those that this was agreed to with.",
                    "Nothing was changed; make a new plan with these rules, or use those that it was made with.");
        }
        if (!plan.fingerprint().equals(token.fingerprint())) {
            throw new StalePlanException(Difference.between(token.counts(), plan));
        }
    }

    /** Whoever carries an approval needn't know where a database runs. */
    private static String database(Scope scope) {
        return RequestDigest.ofParts("database", scope.database());
    }

    /** What was redeemed is committed by now, so nothing that fails here is told. */
    private void forgetOld() {
        try {
            redeemed.forget(clock.instant().minus(1, ChronoUnit.DAYS));
        } catch (VacancyException later) {
            LOG.debug("Approvals that are long past are left for the next one who redeems", later);
        }
    }
}
