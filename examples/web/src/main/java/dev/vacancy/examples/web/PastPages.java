package dev.vacancy.examples.web;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Sample;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.DeletedRecord;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailRun;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;

/** What is deleted, what happened, and the way back. */
final class PastPages {
    private static final String FINGERPRINT = "fingerprint";

    private final Vacancy vacancy;

    PastPages(Vacancy vacancy) {
        this.vacancy = vacancy;
    }

    void deleted(Visit visit) throws IOException {
        Html html = new Html();
        table(html, "Deleted keepers", "keeper", "since", "by", "because", "days left");
        for (DeletedRecord deleted : vacancy.history().deleted("keeper", 100)) {
            html.markup("<tr><td>").text(Sample.of(deleted.record())).markup("</td><td class=\"day\">");
            html.text(deleted.at().map(at -> at.toString().substring(0, 10)).orElse("–"))
                    .markup("</td><td>");
            html.text(deleted.by().map(By::actor).orElse("–")).markup("</td><td>");
            html.text(deleted.by().flatMap(By::reason).orElse("–")).markup("</td><td class=\"number\">");
            html.text(deleted.daysLeft().map(String::valueOf).orElse("–")).markup("</td><td>");
            deleted.run()
                    .ifPresent(run ->
                            html.markup("<a href=\"/restoration?run=").text(run).markup("\">Restore…</a> "));
            html.markup("<a class=\"go\" href=\"/deletion?table=keeper&amp;hard=true&amp;key=")
                    .text(deleted.record().key().text())
                    .markup("\">Delete for good…</a></td></tr>\n");
        }
        visit.page(200, "Deleted keepers", html.markup("</tbody></table></div>"));
    }

    static void table(Html html, String label, String... columns) {
        html.markup(
                "<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"" + label + "\"><table><thead><tr>");
        for (String column : columns) {
            html.markup("<th scope=\"col\">" + column + "</th>");
        }
        html.markup("<td></td></tr></thead><tbody>\n");
    }

    void history(Visit visit) throws IOException {
        Html html = new Html();
        table(html, "Runs", "when", "what", "of", "by", "because", "records");
        List<TrailRun> runs = vacancy.history().runs(HistoryQuery.all().atMost(200));
        List<UUID> undone = runs.stream().flatMap(run -> run.about().stream()).toList();
        for (TrailRun run : runs) {
            html.markup("<tr><td class=\"day\">").time(run.at()).markup("</td><td>");
            html.markup("<a href=\"/history?run=")
                    .text(run.runId())
                    .markup("\">")
                    .text(run.kind())
                    .markup("</a>");
            html.markup("</td><td>").text(run.which()).markup("</td><td>");
            html.text(run.who()).markup("</td><td>").text(run.by().reason().orElse("–"));
            html.markup("</td><td class=\"number\">");
            html.text(run.counts().values().stream().mapToLong(Long::longValue).sum())
                    .markup("</td><td>");
            if (run.kind().equals("deletion") && !undone.contains(run.runId())) {
                html.markup("<a href=\"/restoration?run=").text(run.runId()).markup("\">Restore…</a>");
            }
            html.markup("</td></tr>\n");
        }
        visit.page(200, "What happened", html.markup("</tbody></table></div>"));
    }

    void restoration(Visit visit, Optional<String> note) throws IOException {
        RestorePlan plan;
        try {
            plan = vacancy.history().planRestore(visit.run(), visit.by());
        } catch (VacancyException wrong) {
            visit.page(404, "There is nothing to bring back", new Html().element("p", wrong.getMessage()));
            return;
        }
        Html html = new Html();
        note.ifPresent(what -> html.markup("<p class=\"note blocked\" role=\"alert\">")
                .text(what)
                .markup("</p>"));
        html.markup("<p>")
                .text(plan.run().selection() + ", deleted by " + plan.run().by().actor() + " at ")
                .time(plan.run().at())
                .markup("</p>\n");
        if (!plan.conflicts().isEmpty()) {
            conflicts(html, plan);
            visit.page(409, "Something stands in the way", html.markup(visit.backLink()));
            return;
        }
        html.markup("<ul>");
        plan.counts()
                .forEach((table, count) -> html.element("li", String.format(Locale.ROOT, "%,d of %s", count, table)));
        plan.putBack()
                .forEach((link, count) ->
                        html.element("li", String.format(Locale.ROOT, "%,d of %s put back", count, link)));
        html.markup("</ul>");
        plan.left().forEach(left -> html.element("p", left));
        html.markup(visit.form("/restoration").toString()).hidden("run", visit.run());
        html.hidden(FINGERPRINT, plan.fingerprint())
                .markup("<div class=\"choice\">")
                .markup(visit.backLink());
        html.markup("<button>Bring back</button></div></form>");
        visit.page(200, "Bring this back?", html);
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

    void restore(Visit visit) throws IOException {
        RestorePlan plan = vacancy.history().planRestore(visit.run(), visit.by());
        if (!plan.fingerprint().equals(visit.value(FINGERPRINT).orElse(""))) {
            restoration(visit, Optional.of("Something has changed since you looked. Look again."));
            return;
        }
        RestoreOutcome outcome = vacancy.history().restore(Approval.of(plan));
        long records =
                outcome.counts().values().stream().mapToLong(Long::longValue).sum();
        Html html = new Html();
        html.markup("<p class=\"note\" role=\"status\">")
                .text(String.format(Locale.ROOT, "%,d records are back as they were.", records))
                .markup("</p><p><a class=\"button\" href=\"/\">To the list</a></p>");
        visit.page(200, "Brought back", html);
    }
}
