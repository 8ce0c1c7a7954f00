package dev.vacancy.web;

import dev.vacancy.By;
import dev.vacancy.Mode;
import dev.vacancy.Proposal;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.approvals.Receipt;
import jakarta.servlet.http.HttpServletResponse;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;

/** Approvals that travel in the content of requests: what is signed needs no memory of the process that has signed it. */
final class SignedApprovals {
    static final String APPROVAL = "approval";

    private final Offer offer;

    SignedApprovals(Offer offer) {
        this.offer = offer;
    }

    /** Signs a question, where approvals are signed here. */
    Optional<String> issue(Question question) {
        return offer.options()
                .keys()
                .map(keys -> Approvals.of(offer.of(question.plan().by()), keys).issue(question));
    }

    /** The approval that a request brings, if it brings one. */
    static Optional<String> in(Map<String, Object> body) {
        Object approval = body.get(APPROVAL);
        if (approval != null && !(approval instanceof String)) {
            throw Problem.of(
                    HttpServletResponse.SC_BAD_REQUEST,
                    "usage",
                    "The approval in the content is no text.",
                    "Send it as it came with the plan.");
        }
        return Optional.ofNullable((String) approval);
    }

    /** Whether an approval is of one transaction, and of more records than these. */
    boolean isAtOnceBeyond(long records, String token, By by) {
        Approvals approvals = of(by);
        return approvals.mode(token) != Mode.IN_CHUNKS && approvals.total(token) > records;
    }

    /** Redeems an approval of a deletion. */
    Receipt redeem(String token, Selection selection, By by, Optional<String> said) {
        return of(by).redeem(token, selection, by, said.orElse(null));
    }

    /** Redeems an approval of an erasure: of a record and what the trail holds of it, or of the latter alone. */
    Receipt redeemErasure(String token, Selection selection, String key, By by, Optional<String> said) {
        Approvals approvals = of(by);
        return approvals.mode(token) == Mode.ERASING
                ? approvals.redeem(token, selection, by, said.orElse(null))
                : approvals.redeemErasure(token, selection.table(), key, by, said.orElse(null));
    }

    /** Redeems an approval of a restore. */
    Receipt redeemRestore(String token, UUID run, By by) {
        return of(by).redeemRestore(token, run, by);
    }

    /** A colleague agrees as well to what is planned, and gets the approval of both. */
    Answer agree(Map<String, Object> body, By colleague, Supplier<? extends Proposal> plan) {
        String token = in(body).orElseThrow(() -> Problem.of(
                HttpServletResponse.SC_BAD_REQUEST,
                "usage",
                "There is no approval to agree to.",
                "Send {\"approval\": …} with the one that came with the plan."));
        return Answer.ok(Map.of(APPROVAL, of(colleague).agree(token, plan.get())));
    }

    private Approvals of(By by) {
        ApprovalKeys keys = offer.options()
                .keys()
                .orElseThrow(() -> Problem.of(
                        HttpServletResponse.SC_BAD_REQUEST,
                        "usage",
                        "Approvals aren't signed here.",
                        "Send the plan's ETag as If-Match instead."));
        return Approvals.of(offer.of(by), keys);
    }

    static Map<String, Object> view(Receipt receipt) {
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("run", receipt.runId().toString());
        view.put("table", receipt.table());
        view.put("at", receipt.at().toString());
        view.put("counts", receipt.counts());
        view.put("marked", receipt.marked());
        view.put("changed", receipt.changed());
        view.put("repeated", receipt.repeated());
        return view;
    }
}
