package dev.vacancy.web;

import dev.vacancy.Approval;
import dev.vacancy.JsonForm;
import dev.vacancy.Question;
import dev.vacancy.approvals.Receipt;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailRun;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.format.DateTimeParseException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** What is deleted, what happened, and the way back. */
final class Records {
    private final Offer offer;
    private final SignedApprovals signed;

    Records(Offer offer, SignedApprovals signed) {
        this.offer = offer;
        this.signed = signed;
    }

    Answer deleted(Exchange exchange) {
        Table table = offer.table(exchange.path().get(0));
        Page page = Page.of(exchange);
        HistoryQuery query = HistoryQuery.all().ofTable(table.name());
        return page.of(
                history(exchange).deleted(query.atMost(page.wanted()).skipping(page.offset())), JsonForm::of, exchange);
    }

    Answer ofRecord(Exchange exchange) {
        Table table = offer.table(exchange.path().get(0));
        String key = history(exchange)
                .keyText(
                        table.name(),
                        new KeyGiven.InOrder(exchange.key(table.identity().size())));
        return entries(exchange, history(exchange), HistoryQuery.all().ofRecord(table.name(), key));
    }

    private Answer entries(Exchange exchange, History history, HistoryQuery query) {
        Page page = Page.of(exchange);
        HistoryQuery part = query(query, exchange).atMost(page.wanted()).skipping(page.offset());
        return page.of(history.entries(part), JsonForm::of, exchange);
    }

    /** What happened to records of all tables that are offered. */
    Answer entries(Exchange exchange) {
        return entries(exchange, offer.ofAll(exchange.by()).history(), HistoryQuery.all());
    }

    /** Who did what, when and why. */
    Answer runs(Exchange exchange) {
        Page page = Page.of(exchange);
        HistoryQuery part =
                query(HistoryQuery.all(), exchange).atMost(page.wanted()).skipping(page.offset());
        return page.of(offer.ofAll(exchange.by()).history().runs(part), Records::view, exchange);
    }

    static Map<String, Object> view(TrailRun run) {
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("run", run.runId().toString());
        view.put("kind", run.kind());
        view.put("table", run.table());
        view.put("selection", run.selection());
        view.put("actor", run.by().actor());
        view.put("reason", run.by().reason().orElse(null));
        view.put("colleague", run.colleague().orElse(null));
        view.put("at", run.at().toString());
        view.put("counts", run.counts());
        view.put("partOf", run.partOf().map(UUID::toString).orElse(null));
        view.put("about", run.about().map(UUID::toString).orElse(null));
        return view;
    }

    /** What the parameters of the query narrow it to. */
    private HistoryQuery query(HistoryQuery whole, Exchange exchange) {
        HistoryQuery query = whole;
        String table = exchange.request().getParameter("table");
        if (table != null) {
            query = query.ofTable(offer.table(table).name());
        }
        String actor = exchange.request().getParameter("actor");
        query = actor == null ? query : query.by(actor);
        String run = exchange.request().getParameter("run");
        query = run == null ? query : query.ofRun(Exchange.id(run));
        Optional<Instant> from = moment(exchange, "from");
        Optional<Instant> until = moment(exchange, "until");
        return from.isEmpty() && until.isEmpty()
                ? query
                : query.between(from.orElse(Instant.EPOCH), until.orElse(Instant.parse("9999-12-31T00:00:00Z")));
    }

    private static Optional<Instant> moment(Exchange exchange, String name) {
        return Optional.ofNullable(exchange.request().getParameter(name)).map(given -> {
            try {
                return OffsetDateTime.parse(given).toInstant();
            } catch (DateTimeParseException wrong) {
                throw Problem.of(
                        HttpServletResponse.SC_BAD_REQUEST,
                        "usage",
                        "The parameter " + name + " is no moment.",
                        "Write it as in ISO 8601, such as 2026-03-01T02:00:00Z.");
            }
        });
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
        view.put(
                SignedApprovals.APPROVAL,
                plan.isBlocked() || plan.isEmpty()
                        ? null
                        : signed.issue(Question.about(plan)).orElse(null));
        return Answer.ok(view).tagged(plan.fingerprint());
    }

    /** A colleague agrees as well. */
    Answer agree(Exchange exchange) throws IOException {
        return signed.agree(exchange.body(), exchange.by(), () -> plan(exchange));
    }

    Answer restore(Exchange asked) throws IOException {
        Map<String, Object> body = asked.bodyIfAny();
        Exchange exchange = asked.because(body);
        Optional<String> token = SignedApprovals.in(body);
        if (token.isPresent()) {
            UUID run = Exchange.id(exchange.path().get(1));
            requireOffered(run);
            Receipt receipt = signed.redeemRestore(token.get(), run, exchange.by());
            return restored(exchange, receipt.runId(), receipt.counts(), receipt.changed(), receipt.repeated());
        }
        RestorePlan plan = plan(exchange);
        AgreedFingerprints agreed = exchange.agreed().and(body.get("fingerprint"));
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
        return restored(exchange, outcome.runId(), outcome.counts(), outcome.putBack(), false);
    }

    private static Answer restored(
            Exchange exchange, UUID run, Map<String, Long> counts, Map<String, Long> putBack, boolean repeated) {
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("run", run.toString());
        view.put("undone", exchange.path().get(1));
        view.put("counts", counts);
        view.put("putBack", putBack);
        view.put("repeated", repeated);
        return Answer.ok(view);
    }

    private History history(Exchange exchange) {
        return offer.of(exchange.by()).history();
    }

    /** Of a table that isn't offered nothing is brought back, whoever has agreed to it elsewhere. */
    private void requireOffered(UUID run) {
        offer.vacancy()
                .history()
                .runs(HistoryQuery.all().ofRun(run).atMost(1))
                .forEach(problem -> offer.table(problem.table()));
    }

    private RestorePlan plan(Exchange exchange) {
        RestorePlan plan =
                history(exchange).planRestore(Exchange.id(exchange.path().get(1)), exchange.by());
        offer.table(plan.run().table());
        return plan;
    }
}
