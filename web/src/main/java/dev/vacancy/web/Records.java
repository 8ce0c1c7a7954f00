package dev.vacancy.web;

import dev.vacancy.audit.History;
import dev.vacancy.audit.HistoryQuery;
import dev.vacancy.audit.RestoreOutcome;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.audit.TrailEntry;
import dev.vacancy.catalog.Table;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.Question;
import jakarta.servlet.http.HttpServletResponse;
import java.util.LinkedHashMap;
import java.util.Map;

/** What is deleted, what happened, and the way back. */
final class Records {
    private static final int MOST_DELETED = 1_000;

    private final Offer offer;

    Records(Offer offer) {
        this.offer = offer;
    }

    Answer deleted(Exchange exchange) {
        Table table = offer.table(exchange.path().get(0));
        return Answer.ok(history(exchange).deleted(table.name(), MOST_DELETED).stream()
                .map(History.DeletedRecord::view)
                .toList());
    }

    Answer ofRecord(Exchange exchange) {
        Table table = offer.table(exchange.path().get(0));
        String key = String.join(",", Offer.key(table, exchange.path().get(1)));
        return Answer.ok(history(exchange).entries(HistoryQuery.all().ofRecord(table.name(), key)).stream()
                .map(TrailEntry::view)
                .toList());
    }

    Answer restoration(Exchange exchange) {
        RestorePlan plan = plan(exchange);
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("undone", plan.run().runId().toString());
        view.put("counts", plan.counts());
        view.put("putBack", plan.putBack());
        view.put("left", plan.left());
        view.put("conflicts", plan.conflicts());
        view.put("fingerprint", plan.fingerprint());
        return Answer.ok(view).tagged(plan.fingerprint());
    }

    Answer restore(Exchange exchange) {
        RestorePlan plan = plan(exchange);
        Agreed agreed = exchange.agreed();
        if (!agreed.isOfSomething()) {
            throw Problem.of(
                    Problem.PRECONDITION_REQUIRED,
                    "no-approval",
                    "Nobody has agreed to undo run " + exchange.path().get(1) + " yet.",
                    "Get the plan, and send its ETag as If-Match, or its fingerprint as " + Exchange.FINGERPRINT + ".");
        }
        Approval approval = Question.about(plan).yes();
        if (!agreed.isOf(plan.fingerprint())) {
            throw Problem.of(
                    HttpServletResponse.SC_PRECONDITION_FAILED,
                    "stale-plan",
                    "Something else would come back now than what was agreed to.",
                    "Get the plan again, and ask again.");
        }
        RestoreOutcome outcome = history(exchange).restore(approval);
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("run", outcome.runId().toString());
        view.put("undone", outcome.undone().toString());
        view.put("counts", outcome.counts());
        view.put("putBack", outcome.putBack());
        return Answer.ok(view);
    }

    private History history(Exchange exchange) {
        return offer.of(exchange.by()).history();
    }

    private RestorePlan plan(Exchange exchange) {
        RestorePlan plan =
                history(exchange).planRestore(Exchange.id(exchange.path().get(1)), exchange.by());
        offer.table(plan.run().table());
        return plan;
    }
}
