package dev.vacancy.examples.web;

import dev.vacancy.Approval;
import dev.vacancy.Blocker;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Sample;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.approvals.Receipt;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.picture.PlanPicture;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** The page that shows what would go and asks, and what becomes of the answer. */
final class DeletionPages {
    private static final long LARGEST = 1_000;
    private static final int SHOWN = 3;
    private static final String TABLE = "table";
    private static final String NEW_KEEPER = "keeper";
    private static final String HARD = "hard";
    private static final String BEFORE = "before";
    private static final String TYPED = "typed";
    private static final String FINGERPRINT = "fingerprint";
    private static final String APPROVAL = "approval";
    private static final List<String> TABLES = List.of("hive", "keeper", "reading");

    private final Vacancy vacancy;
    private final Approvals approvals;
    private final Keepers keepers;
    private final RunPages runs;

    DeletionPages(Vacancy vacancy, Approvals approvals, Keepers keepers, RunPages runs) {
        this.vacancy = vacancy;
        this.approvals = approvals;
        this.keepers = keepers;
        this.runs = runs;
    }

    private static Selection selection(Visit visit) {
        String table = visit.value(TABLE).orElse("hive");
        if (!TABLES.contains(table)) {
            throw new InvalidRequestException(
                    FailureCode.UNKNOWN_TABLE,
                    "Records of " + table + " aren't deleted here.",
                    "Pick hives, keepers or readings.");
        }
        Optional<String> before = visit.value(BEFORE);
        Selection selection = table.equals("reading") && before.isPresent()
                ? Selection.of(table).where(Criteria.column("taken_at").lessThan(before.get() + "T00:00:00"))
                : Selection.of(table).keys(visit.keys());
        Optional<String> keeper = visit.value(NEW_KEEPER);
        if (table.equals("keeper") && keeper.isPresent()) {
            selection = selection.reassigning("inspection.keeper_id", keeper.get());
        }
        return visit.value(HARD).isPresent() ? selection.hard() : selection;
    }

    /** Small ones may have parents that forbid them; of many those that are forbidden are left out. */
    private static boolean isLarge(Plan plan) {
        return plan.total() > LARGEST && plan.table().name().equals("reading");
    }

    /** Shows all that would go, and asks; nothing is changed by looking. */
    void confirm(Visit visit, Optional<String> note) throws IOException {
        Plan plan;
        try {
            plan = vacancy.plan(selection(visit), visit.by());
        } catch (VacancyException wrong) {
            Html told = new Html().element("p", wrong.problem()).element("p", wrong.remedy());
            visit.page(400, "Nothing to delete", told.markup(visit.backLink()));
            return;
        }
        if (plan.isEmpty()) {
            String why = plan.alreadyDeleted().isEmpty() ? "There is no such record." : "It is deleted already.";
            visit.page(404, "Nothing to delete", new Html().element("p", why).markup(visit.backLink()));
            return;
        }
        Html html = new Html();
        note.ifPresent(what -> html.markup("<p class=\"note blocked\" role=\"alert\">")
                .text(what)
                .markup("</p>"));
        if (plan.isBlocked()) {
            blocked(html, plan);
            handOver(html, visit, plan);
        }
        html.element("h2", "What goes with it")
                .markup("<pre tabindex=\"0\">")
                .text(plan.tree())
                .markup("</pre>");
        if (plan.isBlocked()) {
            html.markup("<p>").markup(visit.backLink()).markup("</p>");
        } else {
            ask(html, visit, plan);
        }
        details(html, visit, plan);
        visit.page(plan.isBlocked() ? 409 : 200, title(plan), html);
    }

    private static String title(Plan plan) {
        if (plan.isBlocked()) {
            return "This can't be deleted as it is";
        }
        return (isLarge(plan) ? Question.aboutChunks(plan) : Question.about(plan)).text();
    }

    /** What is asked and the answers are seen first; whoever wants to know more finds it below. */
    private static void details(Html html, Visit visit, Plan plan) {
        plan.roots().stream().limit(SHOWN).forEach(root -> whole(html, root));
        if (plan.selected() > SHOWN) {
            html.element("p", String.format(Locale.ROOT, "and %,d more", plan.selected() - SHOWN));
        }
        html.markup(
                        "<p class=\"wide\" tabindex=\"0\"><img class=\"plan\" alt=\"The same as a picture\" src=\"/picture?")
                .text(address(visit))
                .markup("\"></p>");
    }

    private void ask(Html html, Visit visit, Plan plan) {
        boolean large = isLarge(plan);
        Question question = Question.about(plan);
        question.survivors().forEach(survivor -> html.element("p", survivor));
        plan.warnings().forEach(warning -> html.element("p", warning));
        html.markup(visit.form("/deletion").toString());
        html.hidden(large ? FINGERPRINT : APPROVAL, large ? plan.fingerprint() : approvals.issue(plan));
        html.hidden(TABLE, plan.table().name());
        visit.keys().forEach(key -> html.hidden(Visit.KEY, key));
        for (String name : List.of(NEW_KEEPER, HARD, BEFORE)) {
            visit.value(name).ifPresent(value -> html.hidden(name, value));
        }
        html.markup("<p><label>Why? <input name=\"reason\" size=\"40\" maxlength=\"200\"></label></p>");
        question.typed()
                .ifPresent(what -> html.markup("<p><label>Type ")
                        .text(what)
                        .markup(" to do so: <input name=\"typed\" autocomplete=\"off\"></label></p>"));
        html.markup("<div class=\"choice\">")
                .markup(visit.backLink())
                .markup("<button class=\"go\">Delete</button></div></form>");
    }

    /** The parameters that the plan was made from. */
    private static String address(Visit visit) {
        return visit.request().getParameterMap().entrySet().stream()
                .filter(entry ->
                        List.of(TABLE, Visit.KEY, NEW_KEEPER, HARD, BEFORE).contains(entry.getKey()))
                .flatMap(entry -> List.of(entry.getValue()).stream()
                        .map(value -> entry.getKey() + "=" + URLEncoder.encode(value, StandardCharsets.UTF_8)))
                .collect(Collectors.joining("&"));
    }

    void picture(Visit visit) throws IOException {
        try {
            Plan plan = vacancy.plan(selection(visit), visit.by());
            visit.write(200, "image/svg+xml", PlanPicture.of(plan));
        } catch (VacancyException wrong) {
            visit.write(404, "text/plain;charset=UTF-8", wrong.problem());
        }
    }

    private static void whole(Html html, RecordContent root) {
        html.element("h2", root.table() + " " + Sample.of(root));
        html.markup("<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"")
                .text(root.table() + " " + root.key().text())
                .markup("\"><table><tbody>");
        root.plainValues()
                .forEach((name, value) -> html.markup("<tr><th scope=\"row\">")
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
    private void handOver(Html html, Visit visit, Plan plan) {
        if (!plan.table().name().equals("keeper")) {
            html.element("p", "Change or delete those records first; then this one can go.");
            return;
        }
        html.markup("<form action=\"/deletion\" method=\"get\">").hidden(TABLE, "keeper");
        visit.keys().forEach(key -> html.hidden(Visit.KEY, key));
        html.markup("<div class=\"choice\"><label>Hand the inspections over to <select name=\"keeper\">");
        keepers.rows("select keeper_id, name from keeper where left_at is null order by name").stream()
                .filter(keeper -> !visit.keys().contains(keeper.get(0)))
                .forEach(keeper -> html.markup("<option value=\"")
                        .text(keeper.get(0))
                        .markup("\">")
                        .text(keeper.get(1))
                        .markup("</option>"));
        html.markup("</select></label><button>Go on</button></div></form>");
    }

    /** Deletes what the page has shown, once: whoever sends the form again is told the same. */
    void delete(Visit visit) throws IOException {
        Selection selection;
        try {
            selection = selection(visit);
        } catch (InvalidRequestException wrong) {
            confirm(visit, Optional.empty());
            return;
        }
        By by = visit.by().because(visit.value("reason").orElse(null));
        if (visit.value(FINGERPRINT).isPresent()) {
            deleteInChunks(visit, vacancy.plan(selection, by));
            return;
        }
        Receipt receipt;
        try {
            receipt = approvals.redeem(
                    visit.value(APPROVAL).orElse(""),
                    selection,
                    by,
                    visit.value(TYPED).orElse("yes"));
        } catch (StalePlanException stale) {
            confirm(visit, Optional.of(stale.problem() + " Look again."));
            return;
        } catch (InvalidRequestException refused) {
            boolean another = refused.code() == FailureCode.NOT_AGREED;
            confirm(
                    visit,
                    Optional.of(
                            another
                                    ? "That wasn't what was to be typed. Nothing was deleted."
                                    : refused.problem() + " Look again."));
            return;
        }
        Html html = new Html();
        html.markup("<p class=\"note\" role=\"status\">").text(summary(receipt)).markup("</p>");
        html.markup("<div class=\"choice\"><a class=\"button\" href=\"/\">To the list</a>"
                        + "<a class=\"button\" href=\"/restoration?run=")
                .text(receipt.runId())
                .markup("\">Undo…</a></div>");
        visit.page(200, "Deleted", html);
    }

    private void deleteInChunks(Visit visit, Plan plan) throws IOException {
        if (!plan.fingerprint().equals(visit.value(FINGERPRINT).orElse(""))) {
            confirm(visit, Optional.of("Something has changed since you looked. Look again."));
            return;
        }
        Optional<Approval> approval =
                Question.aboutChunks(plan).answer(visit.value(TYPED).orElse("yes"));
        if (approval.isEmpty()) {
            confirm(visit, Optional.of("That wasn't what was to be typed. Nothing was deleted."));
            return;
        }
        visit.redirect("/run?run=" + runs.begin(approval.get()));
    }

    private static String summary(Receipt receipt) {
        return counts(receipt.counts(), receipt.marked())
                + (receipt.changed().isEmpty() ? "." : "; changed " + counts(receipt.changed(), List.of()) + ".")
                + (receipt.repeated() ? " This had been done before; nothing more was deleted." : "");
    }

    private static String counts(Map<String, Long> counts, List<String> marked) {
        return counts.entrySet().stream()
                .map(entry -> String.format(Locale.ROOT, "%,d of %s", entry.getValue(), entry.getKey())
                        + (marked.contains(entry.getKey()) ? " (marked)" : ""))
                .collect(Collectors.joining(", "));
    }
}
