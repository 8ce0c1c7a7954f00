package dev.vacancy.web;

import dev.vacancy.By;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Permissions;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.wording.Wording;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Deletion over HTTP (RFC 9110). GET and HEAD never change anything; what is deleted is exactly what {@code If-Match} names, the
 * fingerprint of a plan, or what a signed approval is of.
 *
 * <pre>
 * GET    /{table}/{key}/deletion                the plan; ETag is its fingerprint
 * DELETE /{table}/{key}                         runs it: If-Match, where a question is due; 204, or 200 and the outcome with Prefer: return=representation
 * POST   /{table}/deletions                     {"keys": […]} or {"where": "…"}: 201 and the plan, at a Location; with If-Match or
 *                                               {"fingerprint": …} or {"approval": …}, and {"answer": …} where one is due: runs it
 * POST   /{table}/deletions/agreement           the same and {"approval": …}: a colleague agrees as well
 * GET    /{table}/deletions/{id}                that plan as it is now
 * POST   /{table}/deletions/{id}/approval       {"answer": …} with If-Match, or {"approval": …, "answer": …}: runs it; 202 and the Location of the bulk run if it is large
 * POST   /{table}/deletions/{id}/agreement      {"approval": …}: a colleague agrees as well
 * GET    /{table}/deleted                       soft-deleted records
 * GET    /{table}/{key}/history                 what happened to a record
 * GET    /{table}/{key}/erasure                 what erasing it would do, from the audit trail too; ETag
 * POST   /{table}/{key}/erasure                 erases it: as to delete, with If-Match or {"approval": …}, and {"answer": …}
 * POST   /{table}/{key}/erasure/agreement       {"approval": …}: a colleague agrees as well
 * GET    /history                               what happened to records: ?table=, actor=, run=, from=, until=
 * GET    /history/runs                          who did what, when and why: the same parameters
 * GET    /holds                                 what must not go
 * POST   /holds                                 {"table": …, "where": …, "reason": …}: 201 and a Location
 * DELETE /holds/{run}                           lifts it
 * GET    /runs                                  bulk runs
 * GET    /runs/{run}                            one of them
 * GET    /runs/{run}/events                     the same as server-sent events, while it goes on
 * POST   /runs/{run}/pause, /resume, /cancel    steers it
 * GET    /runs/{run}/restoration                what undoing a run would do; ETag
 * POST   /runs/{run}/restoration                undoes it: If-Match
 * GET    /openapi.json                          all of this as an OpenAPI document, version 3.1, for everybody
 * GET    /deletion.js                           an element for pages that asks and deletes, for everybody, with what it imports:
 *                                               /deletion-dialog.js, /deletion-service.js
 * GET    /words                                 what its dialog says, in a language that is accepted, for everybody
 * </pre>
 *
 * <p>{@code Vacancy-Fingerprint} stands beside {@code ETag} and can be sent instead of {@code If-Match}, for proxies change tags;
 * {@code Vacancy-Answer}, percent-encoded, is what was typed where the rules want more than a yes. What is larger than a transaction may be
 * becomes a bulk run at each of these doors: 202 and its Location.
 *
 * <p>{@code ?hard=true}, {@code ?reassign=inspection.keeper_id=7}, {@code ?skip-blocked=true}, {@code ?expect=11} and
 * {@code ?at-most=20} belong to a deletion and to its plan alike. Why something is wanted is told by {@code Vacancy-Reason},
 * percent-encoded, or by {@code {"reason": …}} in content. Lists come in parts of {@code ?limit=} from {@code ?offset=} on, with the address
 * of the next one as {@code Link} (RFC 8288). Failures are problem details (RFC 9457). Requests that change anything are refused if a browser says that they come from another site.
 *
 * @since 0.1
 */
public final class DeletionServlet extends HttpServlet {
    private static final long serialVersionUID = 1L;
    private static final String ALLOW = "Allow";
    private static final String CHALLENGE = "WWW-Authenticate";
    private static final String SCRIPT = "text/javascript;charset=UTF-8";
    private static final Map<String, String> FOR_EVERYBODY = Map.of(
            "openapi.json",
            "application/json",
            "deletion.js",
            SCRIPT,
            "deletion-dialog.js",
            SCRIPT,
            "deletion-service.js",
            SCRIPT);

    private final transient Offer offer;
    private final transient Actors actors;
    private final transient Deletions deletions;
    private final transient Records records;
    private final transient BulkResources bulk;
    private final transient Holds holds;
    private final transient Erasures erasures;
    private final transient Routes routes;

    /**
     * Makes the servlet.
     *
     * @param vacancy what it works on
     * @param tables the tables that may be named; all others aren't there
     * @param actors says who sends a request
     * @param permissions says who may do what
     */
    public DeletionServlet(Vacancy vacancy, List<String> tables, Actors actors, Permissions permissions) {
        this(vacancy, tables, actors, permissions, WebOptions.defaults());
    }

    /**
     * Makes the servlet, which offers more.
     *
     * @param vacancy what it works on; with signed approvals its table of them must be there, and for bulk runs their tables
     * @param tables the tables that may be named; all others aren't there
     * @param actors says who sends a request
     * @param permissions says who may do what
     * @param options what it offers besides
     */
    public DeletionServlet(
            Vacancy vacancy, List<String> tables, Actors actors, Permissions permissions, WebOptions options) {
        Binder.require();
        this.offer = new Offer(vacancy, List.copyOf(tables), permissions, options);
        this.actors = actors;
        this.bulk = new BulkResources(offer);
        SignedApprovals signed = new SignedApprovals(offer);
        this.deletions = new Deletions(offer, bulk, signed);
        this.records = new Records(offer, signed);
        this.holds = new Holds(offer);
        this.erasures = new Erasures(offer, signed);
        this.routes = routes();
    }

    private Routes routes() {
        return new Routes(name -> offer.has(name))
                .add("GET", "runs", bulk::list)
                .add("GET", "runs/*", bulk::show)
                .add("GET", "runs/*/events", BulkResources.EVENTS, bulk::watch)
                .add("GET", "runs/*/restoration", records::restoration)
                .add("POST", "runs/*/restoration", records::restore)
                .add("POST", "runs/*/restoration/agreement", records::agree)
                .add("POST", "runs/*/pause", bulk::steer)
                .add("POST", "runs/*/resume", bulk::steer)
                .add("POST", "runs/*/cancel", bulk::steer)
                .add("GET", "history", records::entries)
                .add("GET", "history/runs", records::runs)
                .add("GET", "holds", holds::list)
                .add("POST", "holds", holds::hold)
                .add("DELETE", "holds/*", holds::lift)
                .add("GET", "*/*/erasure", erasures::show)
                .add("POST", "*/*/erasure", erasures::erase)
                .add("POST", "*/*/erasure/agreement", erasures::agree)
                .add("GET", "*/deleted", records::deleted)
                .add("GET", "*/*/history", records::ofRecord)
                .add("GET", "*/*/deletion", deletions::plan)
                .add("POST", "*/deletions", deletions::several)
                .add("POST", "*/deletions/agreement", deletions::agreeToSeveral)
                .add("GET", "*/deletions/*", deletions::again)
                .add("POST", "*/deletions/*/approval", deletions::approve)
                .add("POST", "*/deletions/*/agreement", deletions::agree)
                .add("DELETE", "*/*", deletions::delete);
    }

    /** Whatever happens is answered, and what shouldn't have happened is told in the log. */
    @Override
    protected void service(HttpServletRequest request, HttpServletResponse response) throws IOException {
        response.setHeader("X-Content-Type-Options", "nosniff");
        ResponseWriter writing = new ResponseWriter(request, response, () -> offer.wording(request));
        try {
            respond(request, response, writing);
        } catch (Problem.Raised raised) {
            writing.write(raised.problem());
        } catch (OutcomeUnknownException unknown) {
            writing.failed(Problem.of((VacancyException) unknown), unknown);
        } catch (VacancyException failure) {
            Problem problem = Problem.of(failure);
            if (problem.status() < HttpServletResponse.SC_INTERNAL_SERVER_ERROR) {
                writing.write(problem);
            } else {
                writing.failed(problem, failure);
            }
        } catch (RuntimeException | StackOverflowError unexpected) {
            writing.failed(Problem.internal(), unexpected);
        }
    }

    private void respond(HttpServletRequest request, HttpServletResponse response, ResponseWriter writing)
            throws IOException {
        List<String> path = Exchange.path(request);
        if ((path.size() == 1 && FOR_EVERYBODY.containsKey(path.get(0))) || path.equals(List.of("words"))) {
            forEverybody(path.get(0), request, response, writing);
            return;
        }
        response.setHeader("Cache-Control", "no-store");
        Optional<Routes.Route> found = routes.find(request.getMethod(), path);
        if (found.isEmpty()) {
            withoutRoute(request, routes.methods(path), response);
            return;
        }
        Routes.Route route = found.get();
        requireAccepted(request, route.type());
        Exchange.requireQuery(request);
        Exchange exchange = new Exchange(request, response, path, actor(request, response)).because();
        if (route.changes()) {
            exchange.requireOwnSite();
        }
        writing.write(route.handler().handle(exchange));
    }

    /** Nothing of a request is sent back, whatever its method. */
    private static void withoutRoute(HttpServletRequest request, List<String> methods, HttpServletResponse response) {
        if (methods.isEmpty()) {
            throw Problem.notFound();
        }
        if (request.getMethod().equals("OPTIONS")) {
            response.setHeader(ALLOW, String.join(", ", methods));
            response.setStatus(HttpServletResponse.SC_NO_CONTENT);
            return;
        }
        throw Problem.of(
                        HttpServletResponse.SC_METHOD_NOT_ALLOWED,
                        "method-not-allowed",
                        "This address doesn't take the method of the request.",
                        "Use one of " + String.join(", ", methods) + ".")
                .with(ALLOW, String.join(", ", methods));
    }

    private static void requireAccepted(HttpServletRequest request, String type) {
        if (!HeaderFields.accepts(request, type) && !HeaderFields.accepts(request, ResponseWriter.PROBLEM)) {
            throw Problem.of(
                    HttpServletResponse.SC_NOT_ACCEPTABLE,
                    "not-acceptable",
                    "What is there is " + type + ", which the request doesn't accept.",
                    "Accept " + type + ".");
        }
    }

    private By actor(HttpServletRequest request, HttpServletResponse response) {
        Optional<By> actor = actors.of(request);
        if (actor.isPresent()) {
            return actor.get();
        }
        Problem.Raised unknown = Problem.of(
                HttpServletResponse.SC_UNAUTHORIZED, "no-actor", "Nobody is known who asks for this.", "Sign in.");
        throw response.containsHeader(CHALLENGE)
                ? unknown
                : unknown.with(CHALLENGE, offer.options().challenge());
    }

    /** What can be asked is no secret; what is there is. */
    private void forEverybody(
            String name, HttpServletRequest request, HttpServletResponse response, ResponseWriter writing)
            throws IOException {
        if (!List.of("GET", "HEAD").contains(request.getMethod())) {
            withoutRoute(request, List.of("GET", "HEAD", "OPTIONS"), response);
        } else if (name.equals("words")) {
            requireAccepted(request, "application/json");
            writing.write(spoken(offer.wording(request)));
        } else {
            response.setContentType(FOR_EVERYBODY.get(name));
            try (InputStream file = DeletionServlet.class.getResourceAsStream(name)) {
                file.transferTo(response.getOutputStream());
            }
        }
    }

    private static Answer spoken(Wording wording) {
        Map<String, String> words = new TreeMap<>(wording.all("dialog"));
        words.put("language", wording.locale().toLanguageTag());
        return Answer.ok(words).with("Content-Language", wording.locale().toLanguageTag());
    }

    @Override
    public void destroy() {
        bulk.close();
    }
}
