package dev.vacancy.examples.web;

import dev.vacancy.Vacancy;
import dev.vacancy.audit.Conflict;
import dev.vacancy.audit.History.DeletedRecord;
import dev.vacancy.audit.HistoryQuery;
import dev.vacancy.audit.RestoreApproval;
import dev.vacancy.audit.RestoreOutcome;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.audit.TrailRun;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.Question;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.plan.Blocker;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Sample;
import dev.vacancy.run.Outcome;
import dev.vacancy.run.StalePlanException;
import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;

/** The pages, written on the server; they need no script. What changes anything is a POST with the page's own token. */
final class PagesServlet extends HttpServlet {
    private static final long serialVersionUID = 1L;
    private static final int PAGE = 15;
    private static final String ACTOR = "actor";
    private static final String TOKEN = "token";
    private static final String KEY = "key";
    private static final String TABLE = "table";
    private static final String NEW_KEEPER = "keeper";
    private static final List<String> TABLES = List.of("hive", "keeper");

    private final transient Vacancy vacancy;
    private final transient Keepers keepers;

    PagesServlet(Vacancy vacancy, Keepers keepers) {
        this.vacancy = vacancy;
        this.keepers = keepers;
    }

    @Override
    protected void doGet(HttpServletRequest request, HttpServletResponse response) throws IOException {
        String path = String.valueOf(request.getPathInfo());
        switch (path) {
            case "/", "null" -> list(request, response);
            case "/larkmoor.css" -> style(response);
            case "/deletion" -> confirm(request, response, Optional.empty());
            case "/deleted" -> deleted(request, response);
            case "/history" -> history(request, response);
            case "/restoration" -> restoration(request, response);
            default ->
                page(request, response, 404, "There is no such page", new Html().element("p", "Look at the hives."));
        }
    }

    @Override
    protected void doPost(HttpServletRequest request, HttpServletResponse response) throws IOException {
        String token = cookie(request, TOKEN).orElse("");
        if (token.isEmpty() || !token.equals(request.getParameter(TOKEN))) {
            page(
                    request,
                    response,
                    403,
                    "This doesn't come from one of our pages",
                    new Html().element("p", "Nothing was changed. Open the page again and try once more."));
            return;
        }
        try {
            switch (String.valueOf(request.getPathInfo())) {
                case "/actor" -> chooseActor(request, response);
                case "/deletion" -> delete(request, response);
                case "/restoration" -> restore(request, response);
                default -> page(request, response, 404, "There is no such page", new Html());
            }
        } catch (VacancyException failure) {
            Html told = new Html();
            told.element("p", failure.problem()).element("p", failure.remedy());
            page(request, response, 409, "Nothing was changed", told);
        }
    }

    private void list(HttpServletRequest request, HttpServletResponse response) throws IOException {
        int page = number(request.getParameter("page"));
        List<String> chosen = keys(request);
        List<List<String>> hives = keepers.rows(
                "select h.hive_id, h.name, a.name, h.wood, h.set_up_on from hive h join apiary a on a.apiary_id = h.apiary_id"
                        + " order by h.set_up_on desc, h.hive_id limit " + (PAGE + 1) + " offset " + (page * PAGE));
        Html html = new Html();
        html.markup("<form action=\"/deletion\" method=\"get\"><input type=\"hidden\" name=\"table\" value=\"hive\">");
        html.markup("<div class=\"wide\"><table><thead><tr><th><span class=\"quiet\">pick</span></th><th>hive</th>"
                + "<th>apiary</th><th>wood</th><th>set up</th><th></th></tr></thead><tbody>\n");
        for (List<String> hive : hives.subList(0, Math.min(PAGE, hives.size()))) {
            html.markup("<tr><td><input type=\"checkbox\" name=\"key\" value=\"")
                    .text(hive.get(0))
                    .markup("\"");
            html.markup(chosen.contains(hive.get(0)) ? " checked" : "")
                    .markup(" aria-label=\"pick ")
                    .text(hive.get(1));
            html.markup("\"></td><td>")
                    .text(hive.get(0) + " " + hive.get(1))
                    .markup("</td><td>")
                    .text(hive.get(2));
            html.markup("</td><td>")
                    .text(hive.get(3))
                    .markup("</td><td class=\"day\">")
                    .text(hive.get(4));
            html.markup("</td><td><a class=\"go\" href=\"/deletion?table=hive&amp;key=")
                    .text(hive.get(0));
            html.markup("\" aria-label=\"delete ").text(hive.get(1)).markup("\">Delete…</a></td></tr>\n");
        }
        html.markup("</tbody></table></div><div class=\"choice\"><button>Delete the picked ones…</button>");
        if (page > 0) {
            html.markup("<a href=\"/?page=" + (page - 1) + "\">newer</a>");
        }
        if (hives.size() > PAGE) {
            html.markup("<a href=\"/?page=" + (page + 1) + "\">older</a>");
        }
        html.markup("</div></form>");
        html.element("h2", "Keepers");
        html.markup("<ul>");
        keepers.rows("select keeper_id, name from keeper where left_at is null order by name")
                .forEach(keeper -> html.markup("<li>")
                        .text(keeper.get(1))
                        .markup(" <a class=\"go\" href=\"/deletion?table=keeper&amp;key=")
                        .text(keeper.get(0))
                        .markup("\" aria-label=\"delete ")
                        .text(keeper.get(1))
                        .markup("\">leaves…</a></li>\n"));
        html.markup("</ul>");
        page(request, response, 200, "Hives, the newest first", html);
    }

    private Selection selection(HttpServletRequest request) {
        String table = TABLES.contains(request.getParameter(TABLE)) ? request.getParameter(TABLE) : "hive";
        Selection selection = Selection.of(table).keys(keys(request));
        String keeper = request.getParameter(NEW_KEEPER);
        if (table.equals("keeper") && keeper != null && !keeper.isBlank()) {
            selection = selection.reassigning("inspection.keeper_id", keeper);
        }
        return "true".equals(request.getParameter("for-good")) ? selection.forGood() : selection;
    }

    /** Shows all that would go, and asks; nothing is changed by looking. */
    private void confirm(HttpServletRequest request, HttpServletResponse response, Optional<String> changed)
            throws IOException {
        Plan plan;
        try {
            plan = vacancy.plan(selection(request), by(request).orElse(By.user("nobody")));
        } catch (VacancyException wrong) {
            Html told = new Html().element("p", wrong.problem()).element("p", wrong.remedy());
            page(request, response, 400, "Nothing to delete", told.markup(back(request)));
            return;
        }
        if (plan.isEmpty()) {
            Html told = new Html();
            told.element("p", plan.alreadyDeleted().isEmpty() ? "There is no such record." : "It is deleted already.");
            page(request, response, 404, "Nothing to delete", told.markup(back(request)));
            return;
        }
        Html html = new Html();
        changed.ifPresent(
                what -> html.markup("<p class=\"note blocked\">").text(what).markup("</p>"));
        plan.roots().stream().limit(3).forEach(root -> whole(html, root));
        if (plan.selected() > 3) {
            html.element("p", "and " + (plan.selected() - 3) + " more");
        }
        html.element("h2", "What goes with it")
                .markup("<pre>")
                .text(plan.tree())
                .markup("</pre>");
        if (plan.isBlocked()) {
            blocked(html, plan);
            handOver(html, request, plan);
            page(request, response, 409, "This can't be deleted as it is", html.markup(back(request)));
            return;
        }
        Question question = Question.about(plan);
        question.survivors().forEach(survivor -> html.element("p", survivor));
        html.markup("<form method=\"post\" action=\"/deletion\">").hidden(TOKEN, token(request, response));
        html.hidden(TABLE, plan.table().name()).hidden("fingerprint", plan.fingerprint());
        keys(request).forEach(key -> html.hidden(KEY, key));
        Optional.ofNullable(request.getParameter(NEW_KEEPER)).ifPresent(keeper -> html.hidden(NEW_KEEPER, keeper));
        Optional.ofNullable(request.getParameter("for-good")).ifPresent(good -> html.hidden("for-good", good));
        html.markup("<p><label>Why? <input name=\"reason\" size=\"40\" maxlength=\"200\"></label></p>");
        question.typed()
                .ifPresent(number -> html.markup("<p><label>Type ")
                        .text(number)
                        .markup(" to do so: <input name=\"typed\" autocomplete=\"off\"></label></p>"));
        html.markup("<div class=\"choice\">")
                .markup(backLink(request))
                .markup("<button class=\"go\">Delete</button></div>");
        html.markup("</form>");
        page(request, response, 200, question.text(), html);
    }

    private static void whole(Html html, RecordContent root) {
        html.element("h2", root.table() + " " + Sample.of(root));
        html.markup("<div class=\"wide\"><table><tbody>");
        root.plainValues()
                .forEach((name, value) -> html.markup("<tr><th>")
                        .text(name)
                        .markup("</th><td>")
                        .text(value == null ? "–" : value)
                        .markup("</td></tr>\n"));
        html.markup("</tbody></table></div>");
    }

    private static void blocked(Html html, Plan plan) {
        html.markup("<div class=\"note blocked\">");
        for (Blocker blocker : plan.blockers()) {
            html.element("p", blocker.text()).markup("<ul>");
            blocker.children().forEach(child -> html.element("li", child.text()));
            html.markup("</ul>");
        }
        plan.holds()
                .forEach(held -> html.element(
                        "p", held.count() + " of " + held.table() + " held by " + held.by() + ": " + held.reason()));
        html.markup("</div>");
    }

    /** What can be done about it, where somebody else can take the children over. */
    private void handOver(Html html, HttpServletRequest request, Plan plan) {
        if (!plan.table().name().equals("keeper")) {
            html.element("p", "Change or delete those records first; then this one can go.");
            return;
        }
        html.markup("<form action=\"/deletion\" method=\"get\">").hidden(TABLE, "keeper");
        keys(request).forEach(key -> html.hidden(KEY, key));
        html.markup("<div class=\"choice\"><label>Hand the inspections over to <select name=\"keeper\">");
        keepers.rows("select keeper_id, name from keeper where left_at is null order by name").stream()
                .filter(keeper -> !keys(request).contains(keeper.get(0)))
                .forEach(keeper -> html.markup("<option value=\"")
                        .text(keeper.get(0))
                        .markup("\">")
                        .text(keeper.get(1))
                        .markup("</option>"));
        html.markup("</select></label><button>Go on</button></div></form>");
    }

    private void delete(HttpServletRequest request, HttpServletResponse response) throws IOException {
        Optional<By> by = by(request);
        if (by.isEmpty()) {
            page(request, response, 403, "Say first who you are", new Html().element("p", "Nothing was changed."));
            return;
        }
        Plan plan = vacancy.plan(selection(request), by.get().because(request.getParameter("reason")));
        if (!plan.fingerprint().equals(request.getParameter("fingerprint"))) {
            confirm(
                    request,
                    response,
                    Optional.of(
                            plan.isEmpty()
                                    ? "It is gone already."
                                    : "Something has changed since you looked. Look again."));
            return;
        }
        Question question = Question.about(plan);
        String answer = question.typed().isPresent() ? request.getParameter("typed") : "yes";
        Optional<Approval> approval = question.answer(answer);
        if (approval.isEmpty()) {
            confirm(request, response, Optional.of("That wasn't what was to be typed. Nothing was deleted."));
            return;
        }
        Outcome outcome;
        try {
            outcome = vacancy.run(approval.get());
        } catch (StalePlanException stale) {
            confirm(request, response, Optional.of(stale.problem()));
            return;
        }
        Html html = new Html();
        html.markup("<p class=\"note\" role=\"status\">").text(summary(outcome)).markup("</p>");
        html.markup("<form method=\"post\" action=\"/restoration\">").hidden(TOKEN, token(request, response));
        html.hidden("run", outcome.runId())
                .markup("<div class=\"choice\"><a class=\"button\" href=\"/\">To the list</a>");
        html.markup("<button>Undo</button></div></form>");
        page(request, response, 200, "Deleted", html);
    }

    private static String summary(Outcome outcome) {
        String counts = outcome.counts().entrySet().stream()
                .map(entry -> String.format(Locale.ROOT, "%,d of %s", entry.getValue(), entry.getKey())
                        + (outcome.marked().contains(entry.getKey()) ? " (marked)" : ""))
                .collect(Collectors.joining(", "));
        String changed = outcome.changed().entrySet().stream()
                .map(entry -> String.format(Locale.ROOT, "%,d of %s", entry.getValue(), entry.getKey()))
                .collect(Collectors.joining(", "));
        return counts + (changed.isEmpty() ? "." : "; changed " + changed + ".");
    }

    private void deleted(HttpServletRequest request, HttpServletResponse response) throws IOException {
        Html html = new Html();
        html.markup("<div class=\"wide\"><table><thead><tr><th>keeper</th><th>since</th><th>by</th><th>because</th>"
                + "<th>days left</th><th></th></tr></thead><tbody>\n");
        for (DeletedRecord deleted : vacancy.history().deleted("keeper", 100)) {
            html.markup("<tr><td>").text(Sample.of(deleted.record())).markup("</td><td>");
            html.text(deleted.at().map(at -> at.toString().substring(0, 10)).orElse("–"))
                    .markup("</td><td>");
            html.text(deleted.by().map(By::actor).orElse("–")).markup("</td><td>");
            html.text(deleted.by().flatMap(By::reason).orElse("–")).markup("</td><td class=\"number\">");
            html.text(deleted.daysLeft().map(String::valueOf).orElse("–")).markup("</td><td>");
            deleted.run()
                    .ifPresent(run ->
                            html.markup("<a href=\"/restoration?run=").text(run).markup("\">Restore…</a> "));
            html.markup("<a class=\"go\" href=\"/deletion?table=keeper&amp;for-good=true&amp;key=")
                    .text(deleted.record().key().text())
                    .markup("\">Delete for good…</a></td></tr>\n");
        }
        html.markup("</tbody></table></div>");
        page(request, response, 200, "Deleted keepers", html);
    }

    private void history(HttpServletRequest request, HttpServletResponse response) throws IOException {
        Html html = new Html();
        html.markup(
                "<div class=\"wide\"><table><thead><tr><th>when</th><th>what</th><th>of</th><th>by</th><th>because</th>"
                        + "<th>records</th><th></th></tr></thead><tbody>\n");
        List<TrailRun> runs = vacancy.history().runs(HistoryQuery.all().atMost(200));
        List<UUID> undone = runs.stream().flatMap(run -> run.about().stream()).toList();
        for (TrailRun run : runs) {
            html.markup("<tr><td>")
                    .text(run.at().toString().substring(0, 16).replace('T', ' '))
                    .markup("</td><td>");
            html.text(run.kind()).markup("</td><td>").text(run.selection()).markup("</td><td>");
            html.text(run.by().actor())
                    .markup("</td><td>")
                    .text(run.by().reason().orElse("–"));
            html.markup("</td><td class=\"number\">");
            html.text(run.counts().values().stream().mapToLong(Long::longValue).sum())
                    .markup("</td><td>");
            if (run.kind().equals("deletion") && !undone.contains(run.runId())) {
                html.markup("<a href=\"/restoration?run=").text(run.runId()).markup("\">Restore…</a>");
            }
            html.markup("</td></tr>\n");
        }
        html.markup("</tbody></table></div>");
        page(request, response, 200, "What happened", html);
    }

    private void restoration(HttpServletRequest request, HttpServletResponse response) throws IOException {
        try {
            RestorePlan plan = vacancy.history()
                    .planRestore(
                            UUID.fromString(String.valueOf(request.getParameter("run"))),
                            by(request).orElse(By.user("nobody")));
            Html html = new Html();
            html.element(
                    "p",
                    plan.run().selection() + ", deleted by " + plan.run().by().actor() + " at "
                            + plan.run().at());
            if (!plan.conflicts().isEmpty()) {
                conflicts(html, plan);
                page(request, response, 409, "Something stands in the way", html.markup(back(request)));
                return;
            }
            html.markup("<ul>");
            plan.counts()
                    .forEach((table, count) ->
                            html.element("li", String.format(Locale.ROOT, "%,d of %s", count, table)));
            plan.putBack()
                    .forEach((link, count) ->
                            html.element("li", String.format(Locale.ROOT, "%,d of %s put back", count, link)));
            html.markup("</ul>");
            plan.left().forEach(left -> html.element("p", left));
            html.markup("<form method=\"post\" action=\"/restoration\">").hidden(TOKEN, token(request, response));
            html.hidden("run", plan.run().runId())
                    .markup("<div class=\"choice\">")
                    .markup(backLink(request));
            html.markup("<button>Bring back</button></div></form>");
            page(request, response, 200, "Bring this back?", html);
        } catch (VacancyException | IllegalArgumentException wrong) {
            page(request, response, 404, "There is nothing to bring back", new Html().element("p", wrong.getMessage()));
        }
    }

    private static void conflicts(Html html, RestorePlan plan) {
        html.markup("<div class=\"note blocked\"><ul>");
        for (Conflict conflict : plan.conflicts()) {
            html.element(
                    "li",
                    conflict.table() + " " + conflict.key() + ": " + conflict.reason() + ". " + conflict.remedy());
        }
        html.markup("</ul></div>");
    }

    private void restore(HttpServletRequest request, HttpServletResponse response) throws IOException {
        Optional<By> by = by(request);
        if (by.isEmpty()) {
            page(request, response, 403, "Say first who you are", new Html().element("p", "Nothing was changed."));
            return;
        }
        RestorePlan plan =
                vacancy.history().planRestore(UUID.fromString(String.valueOf(request.getParameter("run"))), by.get());
        RestoreOutcome outcome = vacancy.history().restore(RestoreApproval.of(plan));
        long records =
                outcome.counts().values().stream().mapToLong(Long::longValue).sum();
        Html html = new Html();
        html.markup("<p class=\"note\" role=\"status\">")
                .text(String.format(Locale.ROOT, "%,d records are back as they were.", records))
                .markup("</p><p><a class=\"button\" href=\"/\">To the list</a></p>");
        page(request, response, 200, "Brought back", html);
    }

    private void chooseActor(HttpServletRequest request, HttpServletResponse response) {
        String email = String.valueOf(request.getParameter(ACTOR));
        if (keepers.isActive(email)) {
            setCookie(response, ACTOR, URLEncoder.encode(email, StandardCharsets.UTF_8));
        }
        response.setStatus(HttpServletResponse.SC_SEE_OTHER);
        response.setHeader("Location", "/");
    }

    private Optional<By> by(HttpServletRequest request) {
        return cookie(request, ACTOR)
                .map(value -> URLDecoder.decode(value, StandardCharsets.UTF_8))
                .filter(keepers::isActive)
                .or(() -> keepers.active().keySet().stream().findFirst())
                .map(By::user);
    }

    private static List<String> keys(HttpServletRequest request) {
        return Arrays.asList(
                Optional.ofNullable(request.getParameterValues(KEY)).orElse(new String[0]));
    }

    private static int number(String text) {
        return text != null && text.matches("[0-9]{1,4}") ? Integer.parseInt(text) : 0;
    }

    /** The way back to the list, with what was picked still picked. */
    private static String backLink(HttpServletRequest request) {
        String picked = keys(request).stream()
                .map(key -> "key=" + URLEncoder.encode(key, StandardCharsets.UTF_8))
                .collect(Collectors.joining("&amp;"));
        return "<a class=\"button\" autofocus href=\"/" + (picked.isEmpty() ? "" : "?" + picked) + "\">Back</a>";
    }

    private static String back(HttpServletRequest request) {
        return "<p>" + backLink(request).replace(" autofocus", "") + "</p>";
    }

    private static Optional<String> cookie(HttpServletRequest request, String name) {
        return Arrays.stream(Optional.ofNullable(request.getCookies()).orElse(new Cookie[0]))
                .filter(cookie -> cookie.getName().equals(name))
                .map(Cookie::getValue)
                .findFirst();
    }

    /** A form that comes back with another token than the browser's own isn't ours. */
    private static String token(HttpServletRequest request, HttpServletResponse response) {
        Object made = request.getAttribute(TOKEN);
        if (made != null) {
            return made.toString();
        }
        String token = cookie(request, TOKEN)
                .filter(text -> text.matches("[0-9a-f]{32}"))
                .orElseGet(() -> {
                    byte[] random = new byte[16];
                    new SecureRandom().nextBytes(random);
                    String fresh = HexFormat.of().formatHex(random);
                    setCookie(response, TOKEN, fresh);
                    return fresh;
                });
        request.setAttribute(TOKEN, token);
        return token;
    }

    private static void setCookie(HttpServletResponse response, String name, String value) {
        Cookie cookie = new Cookie(name, value);
        cookie.setHttpOnly(true);
        cookie.setPath("/");
        cookie.setAttribute("SameSite", "Strict");
        response.addCookie(cookie);
    }

    private static void style(HttpServletResponse response) throws IOException {
        response.setContentType("text/css;charset=UTF-8");
        try (InputStream style = PagesServlet.class.getResourceAsStream("larkmoor.css")) {
            style.transferTo(response.getOutputStream());
        }
    }

    private void page(HttpServletRequest request, HttpServletResponse response, int status, String title, Html content)
            throws IOException {
        String token = token(request, response);
        Map<String, String> actors = keepers.active();
        String actor = by(request).map(By::actor).orElse("");
        Html html = new Html();
        html.markup("<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>")
                .text(title);
        html.markup(" – Larkmoor</title><meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">"
                + "<link rel=\"stylesheet\" href=\"/larkmoor.css\"></head><body><header><b>Larkmoor Beekeepers</b>"
                + "<nav><a href=\"/\">Hives</a> · <a href=\"/deleted\">Deleted</a> · <a href=\"/history\">History</a></nav>"
                + "<form method=\"post\" action=\"/actor\">");
        html.hidden(TOKEN, token).markup("<label>You are <select name=\"actor\">");
        actors.forEach((email, name) -> html.markup("<option value=\"")
                .text(email)
                .markup("\"")
                .markup(email.equals(actor) ? " selected>" : ">")
                .text(name)
                .markup("</option>"));
        html.markup("</select></label> <button>OK</button></form></header><main><h1>")
                .text(title)
                .markup("</h1>\n");
        html.markup(content.toString()).markup("</main></body></html>\n");
        response.setStatus(status);
        response.setContentType("text/html;charset=UTF-8");
        response.setHeader("Cache-Control", "no-store");
        response.setHeader("Content-Security-Policy", "default-src 'none'; style-src 'self'; form-action 'self'");
        response.setHeader("X-Content-Type-Options", "nosniff");
        response.setHeader("X-Frame-Options", "DENY");
        response.getOutputStream().write(html.toString().getBytes(StandardCharsets.UTF_8));
    }
}
