package dev.vacancy.web;

import dev.vacancy.Approval;
import dev.vacancy.Criteria;
import dev.vacancy.JsonForm;
import dev.vacancy.Mode;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.Receipt;
import dev.vacancy.catalog.Table;
import dev.vacancy.web.Requests.Asked;
import dev.vacancy.web.Requests.Begun;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;

/** Plans as resources, and what becomes of them. */
final class Deletions {
    private static final String FINGERPRINT = "fingerprint";
    private static final int LONGEST_CRITERIA = 10_000;

    private final Offer offer;
    private final BulkResources bulk;
    private final SignedApprovals signed;
    private final Requests requests = new Requests();
    private final OngoingRuns ongoing = new OngoingRuns();

    Deletions(Offer offer, BulkResources bulk, SignedApprovals signed) {
        this.offer = offer;
        this.bulk = bulk;
        this.signed = signed;
    }

    /** What deleting one record would do. */
    Answer plan(Exchange exchange) {
        Plan plan = plan(exchange, one(exchange));
        requireFound(plan);
        return shown(plan, exchange);
    }

    /** Deletes one record. */
    Answer delete(Exchange exchange) {
        Selection selection = one(exchange);
        AgreedFingerprints agreed = exchange.agreed();
        return once(
                exchange, agreed, selection, () -> run(exchange, plan(exchange, selection), agreed, exchange.answer()));
    }

    /** Whoever sends the same twice is told the same twice, as long as there is nothing else to tell. */
    private Answer once(Exchange exchange, AgreedFingerprints agreed, Selection selection, Supplier<Answer> running) {
        if (ongoing.isGoingOn(agreed, selection, exchange.by())) {
            Optional<Outcome> first = ongoing.outcome(agreed, selection, exchange.by());
            if (first.isPresent()) {
                return done(exchange, first.get());
            }
        }
        try {
            return orToldAsGone(exchange, agreed, selection, running);
        } catch (StalePlanException late) {
            // The first may have ended between this one's plan and its locks: whoever looks again sees whether anything
            // is left.
            return orToldAsGone(exchange, agreed, selection, running);
        }
    }

    /** Where nothing of it is there any more, perhaps since it was done, that is told. What came back since is there, and is no such case. */
    private Answer orToldAsGone(
            Exchange exchange, AgreedFingerprints agreed, Selection selection, Supplier<Answer> running) {
        try {
            return running.get();
        } catch (Problem.Raised late) {
            Optional<Outcome> first = late.problem().status() == HttpServletResponse.SC_NOT_FOUND
                    ? ongoing.outcome(agreed, selection, exchange.by())
                    : Optional.empty();
            return done(exchange, first.orElseThrow(() -> late));
        }
    }

    private Selection one(Exchange exchange) {
        Table table = offer.table(exchange.path().get(0));
        List<String> key = exchange.key(table.identity().size());
        return exchange.manner(Selection.of(table.name()).keys(List.of(key)));
    }

    /** Asks about several records: the plan becomes a resource; or deletes them, where somebody has agreed. */
    Answer several(Exchange asked) throws IOException {
        String name = asked.path().get(0);
        Map<String, Object> body = asked.body();
        Exchange exchange = asked.because(body);
        Selection selection = exchange.manner(selection(offer.table(name), body));
        Optional<String> token = SignedApprovals.in(body);
        if (token.isPresent()) {
            return redeem(exchange, token.get(), selection, answer(exchange, body));
        }
        AgreedFingerprints agreed = exchange.agreed().and(body.get(FINGERPRINT));
        if (agreed.conditional()) {
            return once(
                    exchange,
                    agreed,
                    selection,
                    () -> run(exchange, plan(exchange, selection), agreed, answer(exchange, body)));
        }
        Plan plan = plan(exchange, selection);
        UUID id = requests.add(Asked.of(name, selection), exchange.by());
        return shown(plan, exchange)
                .as(HttpServletResponse.SC_CREATED)
                .with("Location", exchange.address(name, "deletions", id.toString()));
    }

    static Optional<String> answer(Exchange exchange, Map<String, Object> body) {
        return Optional.ofNullable(body.get("answer")).map(Object::toString).or(exchange::answer);
    }

    /** What was agreed to in chunks begins here, and is worked on. */
    private Answer redeem(Exchange exchange, String token, Selection selection, Optional<String> said) {
        if (signed.isAtOnceBeyond(offer.options().largest(), token, exchange.by())) {
            throw Problem.of(
                    HttpServletResponse.SC_CONFLICT,
                    "usage",
                    "This deletion is too large for one transaction, and the approval is of one.",
                    "Get the plan again; the approval that comes with it is of a deletion in chunks.");
        }
        Receipt receipt = signed.redeem(token, selection, exchange.by(), said);
        if (receipt.mode() != Mode.IN_CHUNKS) {
            return Answer.ok(SignedApprovals.view(receipt));
        }
        if (!receipt.repeated()) {
            bulk.work(receipt.runId());
        }
        return bulk.accepted(receipt.runId(), exchange);
    }

    private boolean isLarge(Plan plan) {
        return plan.total() > offer.options().largest();
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
    Answer approve(Exchange sent) throws IOException {
        Asked asked = asked(sent);
        Map<String, Object> body = sent.body();
        Exchange exchange = sent.because(body);
        Optional<String> said = answer(exchange, body);
        Optional<UUID> begun = asked.run().run();
        if (begun.isPresent()) {
            return bulk.accepted(begun.get(), exchange);
        }
        Optional<String> token = SignedApprovals.in(body);
        if (token.isPresent()) {
            return redeem(exchange, token.get(), asked.selection(), said);
        }
        AgreedFingerprints agreed = exchange.agreed().and(body.get(FINGERPRINT));
        return once(
                exchange,
                agreed,
                asked.selection(),
                () -> run(exchange, plan(exchange, asked.selection()), agreed, said, asked.run()));
    }

    /** A colleague agrees as well, to what was asked about here. */
    Answer agree(Exchange exchange) throws IOException {
        return agree(exchange, exchange.body(), asked(exchange).selection());
    }

    /** The same for what was asked about elsewhere. */
    Answer agreeToSeveral(Exchange exchange) throws IOException {
        Map<String, Object> body = exchange.body();
        Table table = offer.table(exchange.path().get(0));
        return agree(exchange, body, exchange.manner(selection(table, body)));
    }

    private Answer agree(Exchange exchange, Map<String, Object> body, Selection selection) {
        return signed.agree(body, exchange.by(), () -> plan(exchange, selection));
    }

    private Plan plan(Exchange exchange, Selection selection) {
        return offer.of(exchange.by()).plan(selection, exchange.by());
    }

    private Answer run(Exchange exchange, Plan plan, AgreedFingerprints agreed, Optional<String> said) {
        return run(exchange, plan, agreed, said, new Begun());
    }

    /** The one way in which a plan is run here, whatever the request; what is too large for a transaction goes in chunks. */
    private Answer run(Exchange exchange, Plan plan, AgreedFingerprints agreed, Optional<String> said, Begun begun) {
        requireFound(plan);
        Vacancy vacancy = offer.of(plan.by());
        boolean large = isLarge(plan);
        Question question = question(exchange, plan, large);
        if (!agreed.isOfSomething() && !question.isDue()) {
            return large
                    ? bulk.accepted(begun.begin(() -> bulk.start(Approval.inChunks(plan))), exchange)
                    : done(exchange, ongoing.run(plan, () -> vacancy.run(Approval.of(plan))));
        }
        Optional<Plan> before = agreed.isOf(plan.fingerprint()) ? Optional.empty() : requests.shown(agreed, plan);
        if (before.isPresent() && !large) {
            // It says what is different; or the records are again as they were shown, and that was agreed to.
            Approval approval = answered(question(exchange, before.get(), false), said);
            return done(exchange, ongoing.run(before.get(), () -> vacancy.run(approval)));
        }
        requireMatch(question, agreed, plan);
        Approval approval = answered(question, said);
        return large
                ? bulk.accepted(begun.begin(() -> bulk.start(approval)), exchange)
                : done(exchange, ongoing.run(plan, () -> vacancy.run(approval)));
    }

    private Question question(Exchange exchange, Plan plan, boolean large) {
        return (large ? Question.aboutChunks(plan) : Question.about(plan)).worded(offer.wording(exchange.request()));
    }

    /** Whoever names the plan has said yes; where more than that is asked, it has to be there. */
    static Approval answered(Question question, Optional<String> said) {
        return question.typed().isPresent()
                ? question.answer(said.orElse(null)).orElseThrow(() -> notAnswered(question))
                : question.yes();
    }

    private static Problem.Raised notAnswered(Question question) {
        String typed = question.typed().orElseThrow();
        return Problem.of(
                        HttpServletResponse.SC_CONFLICT,
                        "not-agreed",
                        question.text(),
                        "Send {\"answer\": \"" + typed + "\"} to do so, or " + Exchange.ANSWER
                                + " where there is no content.")
                .telling("typed", typed);
    }

    /** What is agreed to is named by its fingerprint (RFC 9110, section 13.1.1). */
    static void requireMatch(Question question, AgreedFingerprints agreed, Proposal plan) {
        if (!agreed.isOfSomething()) {
            throw Problem.of(
                    Problem.PRECONDITION_REQUIRED,
                    "no-approval",
                    question.text(),
                    "Get the plan, and send its ETag as If-Match, or its fingerprint as " + Exchange.FINGERPRINT + ".");
        }
        if (!agreed.isOf(plan.fingerprint())) {
            throw Problem.of(
                    HttpServletResponse.SC_PRECONDITION_FAILED,
                    "stale-plan",
                    "The deletion would be another one now than the one that was agreed to: " + question.text(),
                    agreed.fingerprints().isEmpty()
                            ? "No strong tag came; send the plan's fingerprint as " + Exchange.FINGERPRINT + "."
                            : "Get the plan again, and ask again.");
        }
    }

    private static Answer done(Exchange exchange, Outcome outcome) {
        return exchange.prefersRepresentation()
                ? Answer.ok(JsonForm.of(outcome)).with("Preference-Applied", "return=representation")
                : Answer.nothing();
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

    /** Long criteria keep a database busy for long; many records are named by their keys. */
    private static Criteria criteria(String where) {
        if (where.length() > LONGEST_CRITERIA) {
            throw Problem.of(
                    HttpServletResponse.SC_BAD_REQUEST,
                    "criteria-syntax",
                    "The criteria has " + where.length() + " characters, and may have " + LONGEST_CRITERIA + ".",
                    "Say the same in fewer words, or name the records by their keys.");
        }
        return Criteria.parse(where);
    }

    private static Selection selection(Table table, Map<String, Object> body) {
        if (body.get("where") instanceof String where && !body.containsKey("keys")) {
            return Selection.of(table.name()).where(criteria(where));
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
        Map<String, Object> view = Exchange.JSON.convertValue(JsonForm.of(plan), Exchange.OBJECT);
        boolean asking = !plan.isBlocked() && !plan.isEmpty();
        Optional<Question> question =
                asking ? Optional.of(Question.about(plan).worded(offer.wording(exchange.request()))) : Optional.empty();
        view.put("question", question.map(Question::text).orElse(null));
        view.put("obstacles", Question.obstacles(plan, offer.wording(exchange.request())));
        view.put("survivors", question.map(Question::survivors).orElse(List.of()));
        view.put("typed", question.flatMap(Question::typed).orElse(null));
        view.put("due", question.map(Question::isDue).orElse(false));
        view.put("inChunks", isLarge(plan));
        view.put(
                SignedApprovals.APPROVAL,
                asking ? signed.issue(question(exchange, plan, isLarge(plan))).orElse(null) : null);
        return Answer.ok(view)
                .tagged(plan.fingerprint())
                .with(
                        "Content-Language",
                        offer.wording(exchange.request()).locale().toLanguageTag());
    }
}
