package dev.vacancy.examples.web;

import dev.vacancy.Vacancy;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailRun;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.UUID;

/** What one run did, and what is to follow it outside of the database. */
final class RunRecordPage {
    private static final int MOST_SOUGHT = 10_000;
    private static final int MOST_SHOWN = 50;

    private final Vacancy vacancy;

    RunRecordPage(Vacancy vacancy) {
        this.vacancy = vacancy;
    }

    void show(Visit visit) throws IOException {
        List<TrailRun> found = vacancy.history().runs(HistoryQuery.all().ofRun(visit.run()));
        if (found.isEmpty()) {
            visit.page(404, "There is no such run", new Html().element("p", "Look at what happened."));
            return;
        }
        TrailRun run = found.get(0);
        Html html = new Html();
        html.markup("<p>").text(run.which() + ", by " + run.who() + " at ").time(run.at());
        html.text(run.by().reason().map(reason -> ", because: " + reason).orElse(""))
                .markup("</p>\n<ul>");
        run.counts()
                .forEach((table, count) -> html.element("li", String.format(Locale.ROOT, "%,d of %s", count, table)));
        html.markup("</ul>").element("h2", "What follows");
        following(html, visit, run.runId());
        html.markup("<p>");
        if (run.kind().equals("deletion")) {
            html.markup("<a href=\"/restoration?run=").text(run.runId()).markup("\">Restore…</a> · ");
        }
        html.markup("<a href=\"/history\">All that happened</a></p>");
        visit.page(200, "What happened: " + run.kind(), html);
    }

    private void following(Html html, Visit visit, UUID run) {
        List<FollowUpMessage> open = vacancy.followUps().list(MOST_SOUGHT).stream()
                .filter(message -> message.run().equals(run))
                .toList();
        if (open.isEmpty()) {
            html.element("p", "Nothing is left to be done.");
            return;
        }
        PastPages.table(html, "What follows", "what", "of", "state", "tried", "next or why not");
        open.stream().limit(MOST_SHOWN).forEach(message -> message(html, visit, message));
        html.markup("</tbody></table></div>");
        if (open.size() > MOST_SHOWN) {
            html.element("p", String.format(Locale.ROOT, "and %,d more", open.size() - MOST_SHOWN));
        }
    }

    private static void message(Html html, Visit visit, FollowUpMessage message) {
        html.markup("<tr><td>").text(message.followUp() + ": " + message.action());
        html.markup("</td><td>")
                .text(message.table() + message.key().map(key -> " " + key).orElse(""));
        html.markup("</td><td>").text(message.state());
        html.markup("</td><td class=\"number\">").text(message.attempts()).markup("</td><td>");
        if (message.state() == FollowUpState.OPEN) {
            html.time(message.dueAt());
        }
        message.failure().ifPresent(why -> html.text(" " + why));
        html.markup("</td><td>");
        if (message.state() == FollowUpState.FAILED) {
            html.markup(visit.form("/follow-up").toString())
                    .hidden("run", message.run())
                    .hidden("message", message.id())
                    .markup("<button name=\"what\" value=\"again\">Try again</button>"
                            + " <button name=\"what\" value=\"give-up\">Give up</button></form>");
        }
        html.markup("</td></tr>\n");
    }

    /** Whatever isn't there any more was handled meanwhile. */
    void steer(Visit visit) {
        FollowUps followUps = vacancy.followUps();
        UUID message = visit.id("message");
        switch (visit.value("what").orElse("")) {
            case "again" -> followUps.again(message);
            case "give-up" -> followUps.giveUp(message);
            default -> followUps.find(message);
        }
        visit.redirect("/history?run=" + visit.run());
    }
}
