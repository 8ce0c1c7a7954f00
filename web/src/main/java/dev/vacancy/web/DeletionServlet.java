package dev.vacancy.web;

import dev.vacancy.Permissions;
import dev.vacancy.Vacancy;
import dev.vacancy.audit.History;
import dev.vacancy.audit.HistoryQuery;
import dev.vacancy.audit.RestoreApproval;
import dev.vacancy.audit.RestoreOutcome;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.audit.TrailEntry;
import dev.vacancy.catalog.Table;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.Question;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.Outcome;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.core.JacksonException;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/**
 * Deletion over HTTP (RFC 9110). GET and HEAD never change anything; what is deleted is exactly what {@code If-Match} names, the
 * fingerprint of a plan.
 *
 * <pre>
 * GET    /{table}/{key}/deletion          the plan; ETag is its fingerprint
 * DELETE /{table}/{key}                   runs it: If-Match, where a question is due; 204, or 200 and the outcome with Prefer: return=representation
 * POST   /{table}/deletions               {"keys": […]} or {"where": "…"}: the plan; with If-Match: runs it
 * GET    /{table}/deleted                 soft-deleted records
 * GET    /{table}/{key}/history           what happened to a record
 * GET    /runs/{run}/restoration          what undoing a run would do; ETag
 * POST   /runs/{run}/restoration          undoes it: If-Match
 * GET    /openapi.json                    all of this as an OpenAPI document, version 3.1, for everybody
 * </pre>
 *
 * <p>{@code ?for-good=true} and {@code ?reassign=inspection.keeper_id=7} belong to a deletion and to its plan alike. Failures are
 * problem details (RFC 9457).
 *
 * @since 0.1
 */
public final class DeletionServlet extends HttpServlet {
    private static final long serialVersionUID = 1L;
    private static final Logger LOG = LoggerFactory.getLogger(DeletionServlet.class);
    private static final String DOCUMENT = "openapi.json";
    private static final int MOST_BYTES = 1_000_000;
    private static final int MOST_DELETED = 1_000;
    private static final int MOST_SHOWN = 200;
    private static final JsonMapper JSON = JsonMapper.builder().build();
    private static final TypeReference<Map<String, Object>> OBJECT = new TypeReference<>() {};

    private final transient Vacancy vacancy;
    private final transient List<String> tables;
    private final transient Actors actors;
    private final transient Permissions permissions;

    /** The plans that were shown last, so that it can be said how a later one differs. */
    private final transient Map<String, Plan> shown = Collections.synchronizedMap(new LinkedHashMap<>() {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Plan> eldest) {
            return size() > MOST_SHOWN;
        }
    });

    /**
     * Makes the servlet.
     *
     * @param vacancy what it works on
     * @param tables the tables that may be named; all others aren't there
     * @param actors says who sends a request
     * @param permissions says who may do what
     */
    public DeletionServlet(Vacancy vacancy, List<String> tables, Actors actors, Permissions permissions) {
        this.vacancy = vacancy;
        this.tables = List.copyOf(tables);
        this.actors = actors;
        this.permissions = permissions;
    }

    /** What an answer consists of. */
    private record Answer(int status, Optional<Object> body, Optional<String> tag) {
        static Answer ok(Object body) {
            return new Answer(HttpServletResponse.SC_OK, Optional.of(body), Optional.empty());
        }

        Answer tagged(String fingerprint) {
            return new Answer(status, body, Optional.of('"' + fingerprint + '"'));
        }
    }

    private interface Handler {
        Answer handle(List<String> path, By by) throws IOException;
    }

    @Override
    protected void doGet(HttpServletRequest request, HttpServletResponse response) throws IOException {
        if (path(request).equals(List.of(DOCUMENT))) {
            document(response);
        } else {
            answer(request, response, (path, by) -> get(path, by, request));
        }
    }

    /** What can be asked is no secret; what is there is. */
    private static void document(HttpServletResponse response) throws IOException {
        response.setContentType("application/json");
        try (InputStream document = DeletionServlet.class.getResourceAsStream(DOCUMENT)) {
            document.transferTo(response.getOutputStream());
        }
    }

    @Override
    protected void doDelete(HttpServletRequest request, HttpServletResponse response) throws IOException {
        answer(request, response, (path, by) -> {
            if (path.size() != 2) {
                throw notFound();
            }
            Table table = table(path.get(0));
            return run(request, plan(Selection.of(table.name()).keys(List.of(key(table, path.get(1)))), by, request));
        });
    }

    @Override
    protected void doPost(HttpServletRequest request, HttpServletResponse response) throws IOException {
        answer(request, response, (path, by) -> {
            if (path.size() == 3 && path.get(0).equals("runs") && path.get(2).equals("restoration")) {
                return restore(path.get(1), by, request);
            }
            if (path.size() != 2 || !path.get(1).equals("deletions")) {
                throw notFound();
            }
            Table table = table(path.get(0));
            Plan plan = plan(selection(table, request), by, request);
            return request.getHeader("If-Match") == null
                    ? Answer.ok(view(plan)).tagged(plan.fingerprint())
                    : run(request, plan);
        });
    }

    private Answer get(List<String> path, By by, HttpServletRequest request) {
        if (path.size() == 3 && path.get(0).equals("runs") && path.get(2).equals("restoration")) {
            RestorePlan plan = restoration(path.get(1), by);
            return Answer.ok(view(plan)).tagged(plan.fingerprint());
        }
        if (path.size() == 2 && path.get(1).equals("deleted")) {
            Table table = table(path.get(0));
            return Answer.ok(of(by).history().deleted(table.name(), MOST_DELETED).stream()
                    .map(History.DeletedRecord::view)
                    .toList());
        }
        if (path.size() != 3) {
            throw notFound();
        }
        Table table = table(path.get(0));
        if (path.get(2).equals("history")) {
            String key = String.join(",", key(table, path.get(1)));
            return Answer.ok(of(by).history().entries(HistoryQuery.all().ofRecord(table.name(), key)).stream()
                    .map(TrailEntry::view)
                    .toList());
        }
        if (!path.get(2).equals("deletion")) {
            throw notFound();
        }
        Plan plan = plan(Selection.of(table.name()).keys(List.of(key(table, path.get(1)))), by, request);
        requireFound(plan);
        return Answer.ok(view(plan)).tagged(plan.fingerprint());
    }

    private Plan plan(Selection asked, By by, HttpServletRequest request) {
        Selection selection = asked;
        if ("true".equals(request.getParameter("for-good"))) {
            selection = selection.forGood();
        }
        for (String given :
                Optional.ofNullable(request.getParameterValues("reassign")).orElse(new String[0])) {
            int point = given.indexOf('=');
            if (point < 1) {
                throw Problem.of(
                        HttpServletResponse.SC_BAD_REQUEST,
                        "usage",
                        "'" + given + "' doesn't say who takes over the children on which link.",
                        "Write reassign=inspection.keeper_id=7.");
            }
            Object[] key = given.substring(point + 1).split(",", -1);
            selection = selection.reassigning(given.substring(0, point), key);
        }
        return of(by).plan(selection, by);
    }

    private Answer run(HttpServletRequest request, Plan plan) {
        requireFound(plan);
        String expected = request.getHeader("If-Match");
        Question question = Question.about(plan);
        if (expected == null && !question.isDue()) {
            return done(request, of(plan.by()).run(Approval.of(plan)));
        }
        if (expected == null) {
            throw Problem.of(
                    Problem.PRECONDITION_REQUIRED,
                    "no-approval",
                    question.text(),
                    "Get the plan, and send its ETag as If-Match.");
        }
        Approval approval = Approval.of(plan);
        if (!expected.equals('"' + plan.fingerprint() + '"')) {
            Plan before = shown.get(expected);
            boolean same = before != null
                    && before.selection().words().equals(plan.selection().words())
                    && before.selection().isForGood() == plan.selection().isForGood()
                    && before.by().actor().equals(plan.by().actor());
            if (same) {
                // It says what is different; or the records are again as they were shown, and that was agreed to.
                return done(request, of(plan.by()).run(Approval.of(before)));
            }
            throw Problem.of(
                    HttpServletResponse.SC_PRECONDITION_FAILED,
                    "stale-plan",
                    "The deletion would be another one now than the one that was agreed to: "
                            + Question.about(plan).text(),
                    "Get the plan again, and ask again.");
        }
        return done(request, of(plan.by()).run(approval));
    }

    private static Answer done(HttpServletRequest request, Outcome outcome) {
        String prefer = String.valueOf(request.getHeader("Prefer"));
        return prefer.replace(" ", "").contains("return=representation")
                ? Answer.ok(outcome.view())
                : new Answer(HttpServletResponse.SC_NO_CONTENT, Optional.empty(), Optional.empty());
    }

    /** What is planned and run for somebody, as far as they may. */
    private Vacancy of(By by) {
        return vacancy.actingFor(by, permissions);
    }

    private RestorePlan restoration(String run, By by) {
        RestorePlan plan = of(by).history().planRestore(run(run), by);
        table(plan.run().table());
        return plan;
    }

    private Answer restore(String run, By by, HttpServletRequest request) {
        RestorePlan plan = restoration(run, by);
        String expected = request.getHeader("If-Match");
        if (expected == null) {
            throw Problem.of(
                    Problem.PRECONDITION_REQUIRED,
                    "no-approval",
                    "Nobody has agreed to undo run " + run + " yet.",
                    "Get the plan, and send its ETag as If-Match.");
        }
        RestoreApproval approval = RestoreApproval.of(plan);
        if (!expected.equals('"' + plan.fingerprint() + '"')) {
            throw Problem.of(
                    HttpServletResponse.SC_PRECONDITION_FAILED,
                    "stale-plan",
                    "Something else would come back now than what was agreed to.",
                    "Get the plan again, and ask again.");
        }
        RestoreOutcome outcome = of(by).history().restore(approval);
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("run", outcome.runId().toString());
        view.put("undone", outcome.undone().toString());
        view.put("counts", outcome.counts());
        view.put("putBack", outcome.putBack());
        return Answer.ok(view);
    }

    private static UUID run(String text) {
        try {
            return UUID.fromString(text);
        } catch (IllegalArgumentException none) {
            throw notFound();
        }
    }

    private void requireFound(Plan plan) {
        if (plan.isEmpty() && plan.skipped().isEmpty()) {
            throw Problem.of(
                    HttpServletResponse.SC_NOT_FOUND,
                    plan.alreadyDeleted().isEmpty() ? "not-found" : "deleted-already",
                    plan.alreadyDeleted().isEmpty()
                            ? "There is no such record of " + plan.table() + "."
                            : "That record of " + plan.table() + " is deleted already.",
                    "Look at the list again.");
        }
    }

    /** A table that isn't allowed isn't there: nobody learns that it exists. */
    private Table table(String name) {
        if (tables.stream().noneMatch(name::equals)) {
            throw notFound();
        }
        return vacancy.catalog().table(name);
    }

    private static List<String> key(Table table, String text) {
        return table.identity().size() == 1 ? List.of(text) : Arrays.asList(text.split(",", -1));
    }

    private static Selection selection(Table table, HttpServletRequest request) throws IOException {
        Map<String, Object> body = body(request);
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

    private static Map<String, Object> body(HttpServletRequest request) throws IOException {
        byte[] bytes = request.getInputStream().readNBytes(MOST_BYTES + 1);
        if (bytes.length > MOST_BYTES) {
            throw Problem.tooLarge(MOST_BYTES);
        }
        try {
            return JSON.readValue(bytes, OBJECT);
        } catch (JacksonException wrong) {
            throw Problem.of(
                    HttpServletResponse.SC_BAD_REQUEST,
                    "usage",
                    "The content is no JSON object: " + wrong.getOriginalMessage(),
                    "Send one, such as {\"keys\": [12, 13]}.");
        }
    }

    private static Problem.Raised notFound() {
        return Problem.of(
                HttpServletResponse.SC_NOT_FOUND,
                "not-found",
                "There is nothing at this address.",
                "Check the address.");
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
            write(response, handler.handle(path(request), by));
        } catch (Problem.Raised raised) {
            if (raised.problem().status() == HttpServletResponse.SC_UNAUTHORIZED
                    && !response.containsHeader("WWW-Authenticate")) {
                response.setHeader("WWW-Authenticate", "Basic realm=\"Vacancy\", charset=\"UTF-8\"");
            }
            write(response, raised.problem());
        } catch (VacancyException failure) {
            if (!(failure instanceof InvalidRequestException)) {
                LOG.debug("A request failed", failure);
            }
            write(response, Problem.of(failure));
        }
    }

    /** The segments of the path, each decoded by itself, so that a slash in a key is a part of it. */
    private static List<String> path(HttpServletRequest request) {
        String whole = request.getRequestURI()
                .substring(request.getContextPath().length()
                        + request.getServletPath().length());
        return Arrays.stream(whole.split("/", -1))
                .filter(segment -> !segment.isEmpty())
                .map(DeletionServlet::decoded)
                .toList();
    }

    private static String decoded(String segment) {
        try {
            return URLDecoder.decode(segment.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException wrong) {
            throw notFound();
        }
    }

    private static void write(HttpServletResponse response, Answer answer) throws IOException {
        response.setStatus(answer.status());
        answer.tag().ifPresent(tag -> response.setHeader("ETag", tag));
        if (answer.body().isPresent()) {
            write(response, "application/json", answer.body().get());
        }
    }

    private static void write(HttpServletResponse response, Problem problem) throws IOException {
        response.setStatus(problem.status());
        write(response, "application/problem+json", problem.json());
    }

    private static void write(HttpServletResponse response, String type, Object body) throws IOException {
        response.setContentType(type);
        response.getOutputStream().write(JSON.writeValueAsBytes(body));
    }

    private Map<String, Object> view(Plan plan) {
        shown.put('"' + plan.fingerprint() + '"', plan);
        Map<String, Object> view = JSON.convertValue(plan.view(), OBJECT);
        Optional<Question> question =
                plan.isBlocked() || plan.isEmpty() ? Optional.empty() : Optional.of(Question.about(plan));
        view.put("question", question.map(Question::text).orElse(null));
        view.put("typed", question.flatMap(Question::typed).orElse(null));
        return view;
    }

    private static Map<String, Object> view(RestorePlan plan) {
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("undone", plan.run().runId().toString());
        view.put("counts", plan.counts());
        view.put("putBack", plan.putBack());
        view.put("left", plan.left());
        view.put("conflicts", plan.conflicts());
        return view;
    }
}
