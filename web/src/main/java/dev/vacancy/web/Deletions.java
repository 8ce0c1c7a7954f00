package dev.vacancy.web;

import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Table;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.ApprovalKeys;
import dev.vacancy.confirm.BulkApproval;
import dev.vacancy.confirm.BulkQuestion;
import dev.vacancy.confirm.Question;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.criteria.Selection;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.Outcome;
import dev.vacancy.run.Receipt;
import dev.vacancy.web.Requests.Asked;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** Plans as resources, and what becomes of them. */
final class Deletions {
    private static final String APPROVAL = "approval";

    private final Offer offer;
    private final BulkResources bulk;
    private final Requests requests = new Requests();

    Deletions(Offer offer, BulkResources bulk) {
        this.offer = offer;
        this.bulk = bulk;
    }

    /** What deleting one record would do. */
    Answer plan(Exchange exchange) {
        Plan plan = plan(exchange, one(exchange));
        requireFound(plan);
        return shown(plan, exchange);
    }

    /** Deletes one record. */
    Answer delete(Exchange exchange) {
        return run(exchange, plan(exchange, one(exchange)));
    }

    private Selection one(Exchange exchange) {
        Table table = offer.table(exchange.path().get(0));
        String key = exchange.path().get(1);
        return exchange.manner(Selection.of(table.name()).keys(List.of(Offer.key(table, key))));
    }

    /** Asks about several records: the plan becomes a resource; or deletes them, where somebody has agreed. */
    Answer several(Exchange exchange) throws IOException {
        String name = exchange.path().get(0);
        Selection selection = exchange.manner(selection(offer.table(name), exchange.body()));
        Plan plan = plan(exchange, selection);
        if (exchange.ifMatch().isPresent()) {
            return run(exchange, plan);
        }
        UUID id = requests.add(Asked.of(name, selection));
        return shown(plan, exchange)
                .as(HttpServletResponse.SC_CREATED)
                .with("Location", exchange.address(name, "deletions", id.toString()));
    }

    /** What was asked about, as it is now. */
    Answer again(Exchange exchange) {
        return shown(plan(exchange, asked(exchange).selection()), exchange);
    }

    private Asked asked(Exchange exchange) {
        offer.table(exchange.path().get(0));
        return requests.find(
                Exchange.id(exchange.path().get(2)), exchange.path().get(0));
    }

    /** Somebody agrees to what was asked about: it is run, at once or in chunks. */
    Answer approve(Exchange exchange) throws IOException {
        Asked asked = asked(exchange);
        Map<String, Object> body = exchange.body();
        Object answer = body.get("answer");
        String said = answer == null ? null : answer.toString();
        Optional<UUID> begun = asked.run().run();
        if (begun.isPresent()) {
            return bulk.accepted(begun.get(), exchange);
        }
        if (body.get(APPROVAL) instanceof String token) {
            Receipt receipt =
                    offer.of(exchange.by()).approvals(keys()).redeem(token, asked.selection(), exchange.by(), said);
            return Answer.ok(view(receipt));
        }
        Plan plan = plan(exchange, asked.selection());
        requireFound(plan);
        if (plan.total() > offer.options().largest()) {
            return inChunks(exchange, asked, plan, said);
        }
        Question question = Question.about(plan).in(offer.wording(exchange.request()));
        if (question.typed().isPresent() && question.answer(said).isEmpty()) {
            throw notAnswered(question.text(), question.typed().get());
        }
        return run(exchange, plan);
    }

    private Answer inChunks(Exchange exchange, Asked asked, Plan plan, String said) {
        requireMatch(exchange, plan);
        BulkQuestion question = BulkQuestion.about(plan).in(offer.wording(exchange.request()));
        if (question.typed().isPresent() && question.answer(said).isEmpty()) {
            throw notAnswered(question.text(), question.typed().get());
        }
        BulkApproval approval = BulkApproval.of(plan);
        return bulk.accepted(asked.run().begin(() -> bulk.start(approval)), exchange);
    }

    /** A colleague agrees as well. */
    Answer agree(Exchange exchange) throws IOException {
        Asked asked = asked(exchange);
        if (!(exchange.body().get(APPROVAL) instanceof String token)) {
            throw Problem.of(
                    HttpServletResponse.SC_BAD_REQUEST,
                    "usage",
                    "There is no approval to agree to.",
                    "Send {\"approval\": …} with the one that came with the plan.");
        }
        return Answer.ok(Map.of(
                APPROVAL, offer.of(exchange.by()).approvals(keys()).agree(token, asked.selection(), exchange.by())));
    }

    private ApprovalKeys keys() {
        return offer.options()
                .keys()
                .orElseThrow(() -> Problem.of(
                        HttpServletResponse.SC_BAD_REQUEST,
                        "usage",
                        "Approvals aren't signed here.",
                        "Send the plan's ETag as If-Match instead."));
    }

    private static Problem.Raised notAnswered(String question, String typed) {
        return Problem.of(
                Problem.PRECONDITION_REQUIRED,
                "not-agreed",
                question,
                "Send {\"answer\": \"" + typed + "\"} to do so.");
    }

    private Plan plan(Exchange exchange, Selection selection) {
        return offer.of(exchange.by()).plan(selection, exchange.by());
    }

    private Answer run(Exchange exchange, Plan plan) {
        requireFound(plan);
        Vacancy vacancy = offer.of(plan.by());
        if (exchange.ifMatch().isEmpty() && !Question.about(plan).isDue()) {
            return done(exchange, vacancy.run(Approval.of(plan)));
        }
        Approval approval = Approval.of(plan);
        Optional<Plan> before = exchange.ifMatch()
                .filter(tag -> !tag.equals(Answer.tag(plan.fingerprint())))
                .flatMap(tag -> requests.shown(tag, plan));
        if (before.isPresent()) {
            // It says what is different; or the records are again as they were shown, and that was agreed to.
            return done(exchange, vacancy.run(Approval.of(before.get())));
        }
        requireMatch(exchange, plan);
        return done(exchange, vacancy.run(approval));
    }

    /** What is agreed to is named by its fingerprint (RFC 9110, section 13.1.1). */
    private static void requireMatch(Exchange exchange, Plan plan) {
        String tag = exchange.ifMatch()
                .orElseThrow(() -> Problem.of(
                        Problem.PRECONDITION_REQUIRED,
                        "no-approval",
                        BulkQuestion.about(plan).text(),
                        "Get the plan, and send its ETag as If-Match."));
        if (!tag.equals(Answer.tag(plan.fingerprint()))) {
            throw Problem.of(
                    HttpServletResponse.SC_PRECONDITION_FAILED,
                    "stale-plan",
                    "The deletion would be another one now than the one that was agreed to: "
                            + BulkQuestion.about(plan).text(),
                    "Get the plan again, and ask again.");
        }
    }

    private static Answer done(Exchange exchange, Outcome outcome) {
        return exchange.prefersRepresentation() ? Answer.ok(outcome.view()) : Answer.nothing();
    }

    private static void requireFound(Plan plan) {
        if (plan.isEmpty() && plan.skipped().isEmpty()) {
            boolean never = plan.alreadyDeleted().isEmpty();
            throw Problem.of(
                    HttpServletResponse.SC_NOT_FOUND,
                    never ? "not-found" : "deleted-already",
                    never
                            ? "There is no such record of " + plan.table() + "."
                            : "That record of " + plan.table() + " is deleted already.",
                    "Look at the list again.");
        }
    }

    private static Selection selection(Table table, Map<String, Object> body) {
        if (body.get("where") instanceof String where && !body.containsKey("keys")) {
            return Selection.of(table.name()).where(Criteria.parse(where));
        }
        if (body.get("keys") instanceof List<?> keys && !body.containsKey("where")) {
            return Selection.of(table.name()).keys(keys);
        }
        throw Problem.of(
                HttpServletResponse.SC_BAD_REQUEST,
                "usage",
                "The content says neither which keys nor what the records have in common; that never means all of them.",
                "Send {\"keys\": [12, 13]} or {\"where\": \"set_up_on < '2020-01-01'\"}.");
    }

    private Answer shown(Plan plan, Exchange exchange) {
        requests.show(plan);
        Map<String, Object> view = Exchange.JSON.convertValue(plan.view(), Exchange.OBJECT);
        boolean asking = !plan.isBlocked() && !plan.isEmpty();
        Optional<Question> question =
                asking ? Optional.of(Question.about(plan).in(offer.wording(exchange.request()))) : Optional.empty();
        view.put("question", question.map(Question::text).orElse(null));
        view.put("obstacles", Question.obstacles(plan, offer.wording(exchange.request())));
        view.put("survivors", question.map(Question::survivors).orElse(List.of()));
        view.put("typed", question.flatMap(Question::typed).orElse(null));
        view.put("due", question.map(Question::isDue).orElse(false));
        view.put("inChunks", plan.total() > offer.options().largest());
        view.put(
                APPROVAL,
                asking
                        ? offer.options()
                                .keys()
                                .map(keys ->
                                        offer.of(exchange.by()).approvals(keys).issue(plan))
                                .orElse(null)
                        : null);
        return Answer.ok(view)
                .tagged(plan.fingerprint())
                .with(
                        "Content-Language",
                        offer.wording(exchange.request()).locale().toLanguageTag());
    }

    private static Map<String, Object> view(Receipt receipt) {
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
