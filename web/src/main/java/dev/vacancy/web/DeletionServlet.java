package dev.vacancy.web;

import dev.vacancy.Permissions;
import dev.vacancy.Vacancy;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.plan.By;
import dev.vacancy.wording.Wording;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Map;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

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
 * GET    /runs                                  bulk runs
 * GET    /runs/{run}                            one of them
 * GET    /runs/{run}/events                     the same as server-sent events, while it goes on
 * POST   /runs/{run}/pause, /resume, /cancel    steers it
 * GET    /runs/{run}/restoration                what undoing a run would do; ETag
 * POST   /runs/{run}/restoration                undoes it: If-Match
 * GET    /openapi.json                          all of this as an OpenAPI document, version 3.1, for everybody
 * GET    /deletion.js                           an element for pages that asks and deletes, for everybody
 * GET    /words                                 what its dialog says, in a language that is accepted, for everybody
 * </pre>
 *
 * <p>{@code Vacancy-Fingerprint} stands beside {@code ETag} and can be sent instead of {@code If-Match}, for proxies change tags;
 * {@code Vacancy-Answer}, percent-encoded, is what was typed where the rules want more than a yes. What is larger than a transaction may be
 * becomes a bulk run at each of these doors: 202 and its Location.
 *
 * <p>{@code ?for-good=true} and {@code ?reassign=inspection.keeper_id=7} belong to a deletion and to its plan alike. Failures are
 * problem details (RFC 9457). Requests that change anything are refused if a browser says that they come from another site.
 *
 * @since 0.1
 */
public final class DeletionServlet extends HttpServlet {
    private static final long serialVersionUID = 1L;
    private static final Logger LOG = LoggerFactory.getLogger(DeletionServlet.class);
    private static final Map<String, String> FOR_EVERYBODY =
            Map.of("openapi.json", "application/json", "deletion.js", "text/javascript;charset=UTF-8");

    private final transient Offer offer;
    private final transient Actors actors;
    private final transient Deletions deletions;
    private final transient Records records;
    private final transient BulkResources bulk;

    /**
     * Makes the servlet.
     *
     * @param vacancy what it works on
     * @param tables the tables that may be named; all others aren't there
     * @param actors says who sends a request
     * @param permissions says who may do what
     */
    public DeletionServlet(Vacancy vacancy, List<String> tables, Actors actors, Permissions permissions) {
        this(vacancy, tables, actors, permissions, WebOptions.usual());
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
    }

    private interface Handler {
        Answer handle(Exchange exchange) throws IOException;
    }

    @Override
    protected void doGet(HttpServletRequest request, HttpServletResponse response) throws IOException {
        List<String> path = Exchange.path(request);
        if (path.size() == 1 && FOR_EVERYBODY.containsKey(path.get(0))) {
            serve(path.get(0), response);
        } else if (path.equals(List.of("words"))) {
            response.setHeader("X-Content-Type-Options", "nosniff");
            write(response, spoken(offer.wording(request)));
        } else if (path.size() == 3 && path.get(0).equals("runs") && path.get(2).equals("events")) {
            answer(request, response, exchange -> bulk.watch(exchange, response));
        } else {
            answer(request, response, this::get);
        }
    }

    /** What can be asked is no secret; what is there is. */
    private static void serve(String name, HttpServletResponse response) throws IOException {
        response.setContentType(FOR_EVERYBODY.get(name));
        response.setHeader("X-Content-Type-Options", "nosniff");
        try (InputStream file = DeletionServlet.class.getResourceAsStream(name)) {
            file.transferTo(response.getOutputStream());
        }
    }

    private static Answer spoken(Wording wording) {
        return Answer.ok(wording.all("dialog"))
                .with("Content-Language", wording.locale().toLanguageTag())
                .with("Vary", "Accept-Language");
    }

    @Override
    protected void doDelete(HttpServletRequest request, HttpServletResponse response) throws IOException {
        change(request, response, exchange -> {
            if (!exchange.isAt("*", "*")) {
                throw Problem.notFound();
            }
            return deletions.delete(exchange);
        });
    }

    @Override
    protected void doPost(HttpServletRequest request, HttpServletResponse response) throws IOException {
        change(request, response, this::post);
    }

    @Override
    public void destroy() {
        bulk.close();
    }

    private Answer get(Exchange exchange) {
        if (exchange.isAt("runs")) {
            return bulk.list(exchange);
        }
        if (exchange.isAt("runs", "*")) {
            return bulk.show(exchange);
        }
        if (exchange.isAt("runs", "*", "restoration")) {
            return records.restoration(exchange);
        }
        if (exchange.isAt("*", "deleted")) {
            return records.deleted(exchange);
        }
        if (exchange.isAt("*", "*", "history")) {
            return records.ofRecord(exchange);
        }
        if (exchange.isAt("*", "*", "deletion")) {
            return deletions.plan(exchange);
        }
        if (exchange.isAt("*", "deletions", "*")) {
            return deletions.again(exchange);
        }
        throw Problem.notFound();
    }

    private Answer post(Exchange exchange) throws IOException {
        if (exchange.isAt("runs", "*", "restoration")) {
            return records.restore(exchange);
        }
        if (exchange.isAt("runs", "*", "restoration", "agreement")) {
            return records.agree(exchange);
        }
        if (exchange.isAt("runs", "*", "*")) {
            return bulk.steer(exchange);
        }
        if (exchange.isAt("*", "deletions")) {
            return deletions.several(exchange);
        }
        if (exchange.isAt("*", "deletions", "agreement")) {
            return deletions.agreeToSeveral(exchange);
        }
        if (exchange.isAt("*", "deletions", "*", "approval")) {
            return deletions.approve(exchange);
        }
        if (exchange.isAt("*", "deletions", "*", "agreement")) {
            return deletions.agree(exchange);
        }
        throw Problem.notFound();
    }

    private void change(HttpServletRequest request, HttpServletResponse response, Handler handler) throws IOException {
        answer(request, response, exchange -> {
            exchange.requireOwnSite();
            return handler.handle(exchange);
        });
    }

    private void answer(HttpServletRequest request, HttpServletResponse response, Handler handler) throws IOException {
        response.setHeader("Cache-Control", "no-store");
        response.setHeader("X-Content-Type-Options", "nosniff");
        try {
            By by = actors.of(request)
                    .orElseThrow(() -> Problem.of(
                            HttpServletResponse.SC_UNAUTHORIZED,
                            "no-actor",
                            "Nobody is known who asks for this.",
                            "Sign in."));
            write(response, handler.handle(new Exchange(request, Exchange.path(request), by)));
        } catch (Problem.Raised raised) {
            if (raised.problem().status() == HttpServletResponse.SC_UNAUTHORIZED
                    && !response.containsHeader("WWW-Authenticate")) {
                response.setHeader("WWW-Authenticate", "Basic realm=\"Vacancy\", charset=\"UTF-8\"");
            }
            write(response, raised.problem(), offer.wording(request));
        } catch (VacancyException failure) {
            if (!(failure instanceof InvalidRequestException)) {
                LOG.debug("A request failed", failure);
            }
            write(response, Problem.of(failure), offer.wording(request));
        }
    }

    private static void write(HttpServletResponse response, Answer answer) throws IOException {
        response.setStatus(answer.status());
        answer.headers().forEach(response::setHeader);
        if (answer.body().isPresent()) {
            write(response, "application/json", answer.body().get());
        }
    }

    private static void write(HttpServletResponse response, Problem problem, Wording wording) throws IOException {
        response.setStatus(problem.status());
        response.setHeader("Content-Language", wording.locale().toLanguageTag());
        write(response, "application/problem+json", problem.json(wording));
    }

    private static void write(HttpServletResponse response, String type, Object body) throws IOException {
        response.setContentType(type);
        response.getOutputStream().write(Exchange.JSON.writeValueAsBytes(body));
    }
}
