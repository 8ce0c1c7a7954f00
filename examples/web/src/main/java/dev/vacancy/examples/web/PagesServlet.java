package dev.vacancy.examples.web;

import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.approvals.Approvals;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.util.Map;
import java.util.Optional;

/** The pages, written on the server; they need no script. What changes anything is a POST with the page's own token. */
final class PagesServlet extends HttpServlet {
    private static final long serialVersionUID = 1L;
    private static final Map<String, String> FILES =
            Map.of("larkmoor.css", "text/css;charset=UTF-8", "larkmoor.js", "text/javascript;charset=UTF-8");

    private final transient Keepers keepers;
    private final transient Visitors visitors;
    private final transient ListPages lists;
    private final transient DeletionPages deletions;
    private final transient PastPages past;
    private final transient RunPages runs;
    private final transient RunRecordPage record;

    PagesServlet(Vacancy vacancy, Approvals approvals, Keepers keepers, Visitors visitors, SearchIndex search) {
        this.keepers = keepers;
        this.visitors = visitors;
        this.lists = new ListPages(keepers, search);
        this.runs = new RunPages(vacancy);
        this.deletions = new DeletionPages(vacancy, approvals, keepers, runs);
        this.past = new PastPages(vacancy);
        this.record = new RunRecordPage(vacancy);
    }

    @Override
    protected void doGet(HttpServletRequest request, HttpServletResponse response) throws IOException {
        String path = String.valueOf(request.getPathInfo());
        if (FILES.containsKey(path.replaceFirst("^/", ""))) {
            file(path.substring(1), response);
            return;
        }
        Visit visit = visit(request, response);
        try {
            switch (path) {
                case "/", "null" -> lists.hives(visit);
                case "/readings" -> lists.readings(visit);
                case "/deletion" -> deletions.confirm(visit, Optional.empty());
                case "/picture" -> deletions.picture(visit);
                case "/deleted" -> past.deleted(visit);
                case "/search" -> lists.found(visit);
                case "/history" -> {
                    if (visit.value("run").isPresent()) {
                        record.show(visit);
                    } else {
                        past.history(visit);
                    }
                }
                case "/restoration" -> past.restoration(visit, Optional.empty());
                case "/run" -> runs.show(visit);
                default -> visit.page(404, "There is no such page", new Html().element("p", "Look at the hives."));
            }
        } catch (VacancyException failure) {
            refused(visit, 404, "There is nothing to show", failure);
        }
    }

    @Override
    protected void doPost(HttpServletRequest request, HttpServletResponse response) throws IOException {
        Visit visit = visit(request, response);
        if (!Visitors.isFromOurPage(request)) {
            visit.page(
                    403,
                    "This doesn't come from one of our pages",
                    new Html().element("p", "Nothing was changed. Open the page again and try once more."));
            return;
        }
        try {
            switch (String.valueOf(request.getPathInfo())) {
                case "/actor" -> choose(visit);
                case "/deletion" -> deletions.delete(visit);
                case "/restoration" -> past.restore(visit);
                case "/run" -> runs.steer(visit);
                case "/follow-up" -> record.steer(visit);
                default -> visit.page(404, "There is no such page", new Html());
            }
        } catch (VacancyException failure) {
            refused(visit, 409, "Nothing was changed", failure);
        }
    }

    private Visit visit(HttpServletRequest request, HttpServletResponse response) {
        return new Visit(request, response, visitors.greet(request, response), keepers.active());
    }

    private static void refused(Visit visit, int status, String title, VacancyException failure) throws IOException {
        visit.page(status, title, new Html().element("p", failure.problem()).element("p", failure.remedy()));
    }

    private void choose(Visit visit) {
        visit.value("actor").filter(visitors::isActive).ifPresent(email -> visitors.choose(email, visit.response()));
        visit.redirect("/");
    }

    private static void file(String name, HttpServletResponse response) throws IOException {
        response.setContentType(FILES.get(name));
        response.setHeader("X-Content-Type-Options", "nosniff");
        try (InputStream file = PagesServlet.class.getResourceAsStream(name)) {
            file.transferTo(response.getOutputStream());
        }
    }

    @Override
    public void destroy() {
        runs.close();
    }
}
