package dev.vacancy.examples.web;

import java.io.IOException;
import java.util.List;

/** What can be deleted, to pick from. */
final class ListPages {
    private static final int PAGE = 15;

    private static final int MOST_FOUND = 50;

    private final Keepers keepers;
    private final SearchIndex search;

    ListPages(Keepers keepers, SearchIndex search) {
        this.keepers = keepers;
        this.search = search;
    }

    void hives(Visit visit) throws IOException {
        int page = visit.page();
        List<List<String>> hives = keepers.rows(
                "select h.hive_id, h.name, a.name, h.wood, h.set_up_on from hive h join apiary a on a.apiary_id = h.apiary_id"
                        + " order by h.set_up_on desc, h.hive_id limit " + (PAGE + 1) + " offset " + (page * PAGE));
        Html html = new Html();
        searchBox(html, "");
        html.markup("<form action=\"/deletion\" method=\"get\"><input type=\"hidden\" name=\"table\" value=\"hive\">");
        html.markup("<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"Hives\"><table><thead><tr>"
                + "<th scope=\"col\"><span class=\"quiet\">pick</span></th><th scope=\"col\">hive</th>"
                + "<th scope=\"col\" class=\"extra\">apiary</th><th scope=\"col\" class=\"extra\">wood</th><th scope=\"col\">set up</th><td></td></tr></thead>"
                + "<tbody>\n");
        hives.stream().limit(PAGE).forEach(hive -> hive(html, hive, visit.keys().contains(hive.get(0))));
        html.markup("</tbody></table></div><div class=\"choice\"><button>Delete the picked ones…</button>");
        if (page > 0) {
            html.markup("<a href=\"/?page=" + (page - 1) + "\">newer</a>");
        }
        if (hives.size() > PAGE) {
            html.markup("<a href=\"/?page=" + (page + 1) + "\">older</a>");
        }
        html.markup("</div></form>");
        html.element("h2", "Keepers").markup("<ul>");
        keepers.rows("select keeper_id, name from keeper where left_at is null order by name")
                .forEach(keeper -> html.markup("<li>")
                        .text(keeper.get(1))
                        .markup(" <a class=\"go\" href=\"/deletion?table=keeper&amp;key=")
                        .text(keeper.get(0))
                        .markup("\" aria-label=\"leaves: ")
                        .text(keeper.get(1))
                        .markup("\">leaves…</a></li>\n"));
        visit.page(200, "Hives, the newest first", html.markup("</ul>"));
    }

    private static void hive(Html html, List<String> hive, boolean picked) {
        html.markup("<tr><td><input type=\"checkbox\" name=\"key\" value=\"").text(hive.get(0));
        html.markup(picked ? "\" checked" : "\"").markup(" aria-label=\"pick ").text(hive.get(1));
        html.markup("\"></td><td>")
                .text(hive.get(0) + " " + hive.get(1))
                .markup("</td><td class=\"extra\">")
                .text(hive.get(2));
        html.markup("</td><td class=\"extra\">")
                .text(hive.get(3))
                .markup("</td><td class=\"day\">")
                .text(hive.get(4));
        html.markup("</td><td>");
        deletion(html, hive.get(0), hive.get(1));
        html.markup("</td></tr>\n");
    }

    private static void searchBox(Html html, String sought) {
        html.markup(
                        "<form class=\"choice\" role=\"search\" action=\"/search\" method=\"get\"><label>Find a hive <input type=\"search\""
                                + " name=\"q\" maxlength=\"100\" value=\"")
                .text(sought)
                .markup("\"></label><button>Find</button></form>\n");
    }

    /** What the search box finds is what the index says, which hears of deletions after their commit. */
    void found(Visit visit) throws IOException {
        String sought = visit.value("q").orElse("");
        List<SearchIndex.Found> found = search.find(sought, MOST_FOUND + 1);
        Html html = new Html();
        searchBox(html, sought);
        if (found.isEmpty()) {
            html.element("p", "No hive has all of these words in its number, name or wood.");
        } else {
            PastPages.table(html, "Hives that were found", "hive", "name and wood");
            for (SearchIndex.Found hive : found.subList(0, Math.min(found.size(), MOST_FOUND))) {
                html.markup("<tr><td>").text(hive.key()).markup("</td><td>");
                html.text(hive.words()).markup("</td><td>");
                deletion(html, hive.key(), hive.words());
                html.markup("</td></tr>\n");
            }
            html.markup("</tbody></table></div>");
            if (found.size() > MOST_FOUND) {
                html.element("p", "and more; give another word.");
            }
        }
        visit.page(200, "Hives that were found", html.markup("<p><a href=\"/\">All hives</a></p>"));
    }

    /** Without scripts the link leads to the page that asks; with them the element asks at once. */
    private static void deletion(Html html, String key, String name) {
        html.markup("<vacancy-deletion api=\"/api\" table=\"hive\" reason=\"optional\" key=\"")
                .text(key);
        html.markup("\"><a class=\"go\" href=\"/deletion?table=hive&amp;key=").text(key);
        html.markup("\" aria-label=\"delete ").text(name).markup("\">Delete…</a></vacancy-deletion>");
    }

    void readings(Visit visit) throws IOException {
        List<String> whole = keepers.rows("select count(*), min(taken_at), max(taken_at) from reading")
                .get(0);
        Html html = new Html();
        html.element(
                "p",
                String.format(
                        "%,d readings, from %s until %s.",
                        Long.parseLong(whole.get(0)), day(whole.get(1)), day(whole.get(2))));
        html.markup(
                        "<form action=\"/deletion\" method=\"get\"><input type=\"hidden\" name=\"table\" value=\"reading\">"
                                + "<div class=\"choice\"><label>Those taken before <input type=\"date\" name=\"before\" required value=\"")
                .text(day(whole.get(2)))
                .markup("\"></label><button>Delete them…</button></div></form>");
        visit.page(200, "Readings", html);
    }

    private static String day(String time) {
        return time.length() < 10 ? "" : time.substring(0, 10);
    }
}
