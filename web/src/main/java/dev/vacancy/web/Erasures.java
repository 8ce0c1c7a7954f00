package dev.vacancy.web;

import dev.vacancy.Approval;
import dev.vacancy.ErasureOutcome;
import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.Receipt;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.History;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A record that goes for good, and what the audit trail holds of it too. */
final class Erasures {
    private final Offer offer;
    private final SignedApprovals signed;

    Erasures(Offer offer, SignedApprovals signed) {
        this.offer = offer;
        this.signed = signed;
    }

    /**
     * What would be erased.
     *
     * @param record the deletion of the record; of nothing where it has gone before
     * @param trail what the trail holds of it, at the moment
     */
    private record Erasing(Plan record, ErasurePlan trail) {
        boolean isOfTrailOnly() {
            return record.isEmpty();
        }

        Proposal plan() {
            return isOfTrailOnly() ? trail : record;
        }

        Question question() {
            return isOfTrailOnly() ? Question.about(trail) : Question.aboutErasing(record);
        }
    }

    private Erasing plan(Exchange exchange) {
        Vacancy vacancy = offer.of(exchange.by());
        Selection selection = selection(exchange);
        Plan plan = vacancy.plan(selection, exchange.by());
        ErasurePlan trail = vacancy.history().planErasure(plan.table().name(), keyText(exchange), exchange.by());
        if (plan.isEmpty() && trail.entries() == 0) {
            throw Problem.of(
                    HttpServletResponse.SC_NOT_FOUND,
                    "not-found",
                    "There is no such record of " + plan.table() + ", and the audit trail holds nothing of one.",
                    "Look at the list again.");
        }
        return new Erasing(plan, trail);
    }

    private List<String> key(Exchange exchange) {
        return exchange.key(table(exchange).identity().size());
    }

    private Table table(Exchange exchange) {
        return offer.table(exchange.path().get(0));
    }

    private Selection selection(Exchange exchange) {
        return exchange.manner(Selection.of(table(exchange).name()).keys(List.of(key(exchange))))
                .hard();
    }

    private String keyText(Exchange exchange) {
        History history = offer.vacancy().history();
        return history.keyText(table(exchange).name(), new KeyGiven.InOrder(key(exchange)));
    }

    /** What erasing a record would do. */
    Answer show(Exchange exchange) {
        Erasing erasing = plan(exchange);
        Proposal plan = erasing.plan();
        boolean asking = !plan.isBlocked();
        Optional<Question> question =
                asking ? Optional.of(erasing.question().worded(offer.wording(exchange.request()))) : Optional.empty();
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("table", erasing.trail().table());
        view.put("key", erasing.trail().key());
        view.put("counts", erasing.record().counts());
        view.put("entries", erasing.trail().entries());
        view.put("question", question.map(Question::text).orElse(null));
        view.put("typed", question.flatMap(Question::typed).orElse(null));
        view.put("colleague", plan.colleague());
        view.put("obstacles", Question.obstacles(erasing.record(), offer.wording(exchange.request())));
        view.put("fingerprint", plan.fingerprint());
        view.put(SignedApprovals.APPROVAL, question.flatMap(signed::issue).orElse(null));
        return Answer.ok(view).tagged(plan.fingerprint());
    }

    /** A colleague agrees as well. */
    Answer agree(Exchange exchange) throws IOException {
        return signed.agree(exchange.body(), exchange.by(), () -> plan(exchange).plan());
    }

    /** Erases what was agreed to. */
    Answer erase(Exchange asked) throws IOException {
        Map<String, Object> body = asked.bodyIfAny();
        Exchange exchange = asked.because(body);
        Optional<String> said = Deletions.answer(exchange, body);
        Optional<String> token = SignedApprovals.in(body);
        if (token.isPresent()) {
            Receipt receipt =
                    signed.redeemErasure(token.get(), selection(exchange), keyText(exchange), exchange.by(), said);
            return Answer.ok(SignedApprovals.view(receipt));
        }
        Erasing erasing = plan(exchange);
        erasing.plan().refuseBlocked();
        Question question = erasing.question().worded(offer.wording(exchange.request()));
        Deletions.requireMatch(question, exchange.agreed().and(body.get("fingerprint")), erasing.plan());
        Approval approval = Deletions.answered(question, said);
        Vacancy vacancy = offer.of(exchange.by());
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("table", erasing.trail().table());
        view.put("key", erasing.trail().key());
        if (erasing.isOfTrailOnly()) {
            view.put("run", null);
            view.put("counts", Map.of());
            view.put("entries", vacancy.history().erase(approval));
        } else {
            ErasureOutcome outcome = vacancy.erase(approval);
            view.put("run", outcome.outcome().runId().toString());
            view.put("counts", outcome.outcome().counts());
            view.put("entries", outcome.entries());
        }
        return Answer.ok(view);
    }
}
