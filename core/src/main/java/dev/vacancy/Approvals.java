package dev.vacancy;

import dev.vacancy.confirm.Approval;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.travelling.Redemption;
import dev.vacancy.internal.travelling.Token;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.Receipt;
import dev.vacancy.run.Reporting;
import dev.vacancy.run.StalePlanException;
import java.util.List;

/**
 * Approvals that travel: between two requests of a browser, to another process, to a colleague who has to agree as well. Each is a
 * signed text (JWS, RFC 7515) that holds for some minutes, is bound to who asks, to the selection and to the plan's fingerprint, and
 * is redeemed once: whoever sends it again is told what came of it the first time, and nothing more is deleted.
 *
 * <pre>{@code
 * Approvals approvals = vacancy.approvals(ApprovalKeys.signingWith("2026-11", secret));
 * String token = approvals.issue(plan);                                       // into the form of the page
 * Receipt receipt = approvals.redeem(token, selection, by, answer);           // when the form comes back, once or twice
 * }</pre>
 *
 * <p>Which were redeemed is written in a table of its own, {@code vacancy_redeemed}, in the transaction of the run.
 *
 * @since 0.1
 */
public final class Approvals {
    private final Vacancy vacancy;
    private final Redemption redemption;

    Approvals(Vacancy vacancy, Redemption redemption) {
        this.vacancy = vacancy;
        this.redemption = redemption;
    }

    /**
     * Makes the table unless it is there.
     *
     * @return true if it was made
     */
    public boolean prepare() {
        return redemption.prepare();
    }

    /**
     * Returns what makes the table, for those who make tables by other means.
     *
     * @return SQL statements
     */
    public List<String> ddl() {
        return redemption.ddl();
    }

    /**
     * Signs what somebody is asked: the plan that they are shown, to be sent back when they agree.
     *
     * @param plan the plan
     * @return the signed approval, in the compact form of a JWS
     * @throws dev.vacancy.plan.BlockedException when records forbid the deletion
     */
    public String issue(Plan plan) {
        return redemption.issue(Approval.of(plan));
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
        Token read = redemption.read(token, selection);
        Plan seen = vacancy.plan(selection, colleague);
        vacancy.requireDeletion(seen);
        return redemption.agree(read, seen);
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
    public Receipt redeem(String token, Selection selection, By by, String answer) {
        return redemption.redeem(
                redemption.read(token, selection),
                by,
                answer,
                () -> vacancy.plan(selection, by),
                (approval, attendant) ->
                        vacancy.run(approval, Reporting.nothing(), attendant).runId());
    }
}
