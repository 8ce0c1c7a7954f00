package dev.vacancy.approvals;

import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Mode;
import dev.vacancy.Proposal;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.engine.Operations;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.trail.TrailKey;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Approvals that travel: between two requests of a browser, to another process, to a colleague who has to agree as well. Each is a
 * signed text (JWS, RFC 7515) that holds for some minutes, is bound to who asks, to what they ask for and in which way, and to the plan's
 * fingerprint, and is redeemed once: whoever sends it again is told what came of it the first time, and nothing more is done. Deletions, at
 * once, in chunks and with erasure, emptied tables, restores and erasures from the trail all travel alike.
 *
 * <pre>{@code
 * Approvals approvals = Approvals.of(vacancy, ApprovalKeys.signingWith("2026-11", secret));
 * String token = approvals.issue(plan);                                       // into the form of the page
 * Receipt receipt = approvals.redeem(token, selection, by, answer);           // when the form comes back, once or twice
 * }</pre>
 *
 * <p>Which were redeemed is written in a table of its own, {@code vacancy_redeemed}, in the transaction of the run; of documents, in a collection
 * of that name, with what the run means to do.
 *
 * <p>It is safe for use by many threads.
 *
 * @since 0.1
 */
public final class Approvals {
    private final Vacancy vacancy;
    private final Operations operations;
    private final Redemption redemption;
    private final BulkOptions bulk;

    private Approvals(Vacancy vacancy, Operations operations, Redemption redemption, BulkOptions bulk) {
        this.vacancy = vacancy;
        this.operations = operations;
        this.redemption = redemption;
        this.bulk = bulk;
    }

    /**
     * Returns the approvals of what an entry plans and carries out, in its transactions and for whoever it acts for.
     *
     * @param vacancy the entry
     * @param keys what they are signed with
     * @return the approvals
     */
    public static Approvals of(Vacancy vacancy, ApprovalKeys keys) {
        Operations operations = Engine.behind(vacancy);
        return new Approvals(vacancy, operations, new Redemption(keys, operations), BulkOptions.defaults());
    }

    /**
     * Says how bulk runs are worked on that are begun by redeeming an approval of one; otherwise the usual options apply.
     *
     * @param bulk the options
     * @return the same with these
     */
    public Approvals with(BulkOptions bulk) {
        return new Approvals(vacancy, operations, redemption, bulk);
    }

    /**
     * Signs what somebody is asked: the plan that they are shown, to be sent back when they agree.
     *
     * @param plan the plan
     * @return the signed approval, in the compact form of a JWS
     * @throws dev.vacancy.BlockedException when records forbid the deletion
     * @throws InvalidRequestException when something else stands in the way
     */
    public String issue(Proposal plan) {
        return issue(Question.about(plan));
    }

    /**
     * Signs a question, to be sent back when it is agreed to: about a deletion in chunks, for example.
     *
     * @param question what somebody is asked
     * @return the signed approval, in the compact form of a JWS
     */
    public String issue(Question question) {
        return redemption.issue(question);
    }

    /**
     * Tells in which way an approval would be carried out.
     *
     * @param token the approval
     * @return the way
     * @throws InvalidRequestException when it is forged or expired
     */
    public Mode mode(String token) {
        return redemption.read(token).mode();
    }

    /**
     * Tells how many records an approval is of.
     *
     * @param token the approval
     * @return how many would go, or come back, in all
     * @throws InvalidRequestException when it is forged or expired
     */
    public long total(String token) {
        return redemption.read(token).counts().values().stream()
                .mapToLong(Long::longValue)
                .sum();
    }

    /**
     * Adds a colleague who agrees as well.
     *
     * @param token the approval, as it was issued
     * @param selection what it is for
     * @param colleague who agrees; not the one who asks
     * @return the approval of both, signed anew, for the same time
     * @throws InvalidRequestException when it is forged, expired or of another selection, or the colleague is the one who asks
     * @throws StalePlanException when the deletion would be another one by now
     */
    public String agree(String token, Selection selection, By colleague) {
        read(token, selection);
        return agree(token, vacancy.plan(selection, colleague));
    }

    /**
     * Adds a colleague who has looked at the plan and agrees as well.
     *
     * @param token the approval, as it was issued
     * @param seen the plan of the same, made for the colleague; not for the one who asks
     * @return the approval of both, signed anew, for the same time
     * @throws InvalidRequestException when it is forged, expired or of something else, or the colleague is the one who asks
     * @throws StalePlanException when it would be another plan by now
     */
    public String agree(String token, Proposal seen) {
        operations.requirePermission(seen);
        return redemption.agree(redemption.read(token), seen);
    }

    /**
     * Runs what was agreed to, once.
     *
     * @param token the approval
     * @param selection what it is for
     * @param by who sends it, and why
     * @param answer what they typed, where the question asks for that; else null or anything
     * @return what came of it, now or the first time
     * @throws InvalidRequestException when it is forged, expired, of somebody else or of another selection, when the answer is another
     *     one than was asked for, or a colleague is missing
     * @throws StalePlanException when the deletion would be another one by now, with what is different
     */
    public Receipt redeem(String token, Selection selection, By by, @Nullable String answer) {
        return redeem(read(token, selection), by, answer, () -> vacancy.plan(selection, by));
    }

    /**
     * Empties a table as was agreed to, once.
     *
     * @param token the approval
     * @param emptying what it is for
     * @param by who sends it, and why
     * @param answer the number of the records, which they typed
     * @return what came of it, now or the first time
     * @throws InvalidRequestException as for {@link #redeem(String, Selection, By, String)}
     * @throws StalePlanException when there are other records by now
     */
    public Receipt redeem(String token, Emptying emptying, By by, @Nullable String answer) {
        Token read = redemption.read(
                token,
                RequestDigest.of(emptying, vacancy.catalog()),
                "the emptying of " + vacancy.catalog().table(emptying.table()));
        return redeem(read, by, answer, () -> vacancy.plan(emptying, by));
    }

    /**
     * Undoes a run as was agreed to, once.
     *
     * @param token the approval
     * @param run what it is for: a run, or a bulk run
     * @param by who sends it, and why
     * @return what came of it, now or the first time
     * @throws InvalidRequestException as for {@link #redeem(String, Selection, By, String)}
     * @throws StalePlanException when something else would come back by now
     */
    public Receipt redeemRestore(String token, UUID run, By by) {
        Token read = redemption.read(
                token, RequestDigest.ofRestore(run, Optional.empty()), "to bring back what run " + run + " took");
        return redeem(read, by, null, () -> vacancy.history().planRestore(run, by));
    }

    /**
     * Erases a record from the trail as was agreed to, once.
     *
     * @param token the approval
     * @param table the record's table
     * @param key its key, as {@link dev.vacancy.history.History#keyText} spells it
     * @param by who sends it, and why
     * @param answer what they typed, where the question asks for that; else null or anything
     * @return what came of it, now or the first time
     * @throws InvalidRequestException as for {@link #redeem(String, Selection, By, String)}
     * @throws StalePlanException when the trail holds more or less of it by now
     */
    public Receipt redeemErasure(String token, String table, String key, By by, @Nullable String answer) {
        Table erased = vacancy.catalog().table(table);
        Token read = redemption.read(
                token, RequestDigest.ofErasure(erased, key), "to erase " + erased + " " + key + " from the trail");
        return redeem(read, by, answer, () -> vacancy.history().planErasure(table, key, by));
    }

    /**
     * Masks a text in the trail as was agreed to, once.
     *
     * @param token the approval
     * @param text the text
     * @param by who sends it, and why
     * @param answer what they typed, where the question asks for that; else null or anything
     * @return what came of it, now or the first time
     * @throws InvalidRequestException as for {@link #redeem(String, Selection, By, String)}
     * @throws StalePlanException when it stands in other places by now
     */
    public Receipt redeemMasking(String token, String text, By by, @Nullable String answer) {
        Token read = redemption.read(token, RequestDigest.ofMasking(text.strip()), "to mask that text in the trail");
        return redeem(read, by, answer, () -> vacancy.history().planMasking(text, by));
    }

    /**
     * Erases all that is known of a person as was agreed to, once.
     *
     * @param token the approval
     * @param table the table of the person's record
     * @param key its key, as the trail spells it
     * @param by who sends it, and why
     * @param answer what they typed, where the question asks for that; else null or anything
     * @return what came of it, now or the first time: the records that went
     * @throws InvalidRequestException as for {@link #redeem(String, Selection, By, String)}
     * @throws StalePlanException when something else is known by now
     */
    public Receipt redeemTrace(String token, String table, String key, By by, @Nullable String answer) {
        Table traced = vacancy.catalog().table(table);
        Token read = redemption.read(
                token, RequestDigest.ofTrace(traced, key), "to erase all that is known of " + traced + " " + key);
        return redeem(read, by, answer, () -> {
            List<String> values = TrailKey.texts(key, traced.identity().size());
            return vacancy.plan(vacancy.trace(table, values.toArray()), by);
        });
    }

    /** All that a selection says, told the same way however it was given. */
    private Token read(String token, Selection selection) {
        return redemption.read(
                token, RequestDigest.of(selection, vacancy.catalog()), "the selection " + selection.words());
    }

    private Receipt redeem(Token token, By by, String answer, Supplier<? extends Proposal> plan) {
        return redemption.redeem(
                token, by, answer, plan, (approval, redeeming) -> operations.redeem(approval, bulk, redeeming));
    }
}
