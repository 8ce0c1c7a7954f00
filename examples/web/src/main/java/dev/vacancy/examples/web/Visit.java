package dev.vacancy.examples.web;

import dev.vacancy.By;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;

/**
 * A request for a page, and who makes it.
 *
 * @param request as it came
 * @param response where the page goes
 * @param by who makes it
 * @param keepers whom the visitor can be
 */
record Visit(HttpServletRequest request, HttpServletResponse response, By by, Map<String, String> keepers) {
    static final String KEY = "key";

    Optional<String> value(String name) {
        return Optional.ofNullable(request.getParameter(name)).filter(text -> !text.isBlank());
    }

    List<String> keys() {
        return Arrays.asList(
                Optional.ofNullable(request.getParameterValues(KEY)).orElse(new String[0]));
    }

    int page() {
        String text = value("page").orElse("0");
        return text.matches("[0-9]{1,4}") ? Integer.parseInt(text) : 0;
    }

    UUID run() {
        return id("run");
    }

    /** Whatever isn't an id is one of what isn't there. */
    UUID id(String name) {
        try {
            return UUID.fromString(value(name).orElse(""));
        } catch (IllegalArgumentException none) {
            return new UUID(0, 0);
        }
    }

    /** A form that changes something, with the page's own token. */
    Html form(String action) {
        return new Html()
                .markup("<form method=\"post\" action=\"" + action + "\">")
                .hidden(Visitors.TOKEN, Visitors.token(request, response));
    }

    /** The way back to the list, with what was picked still picked. */
    String backLink() {
        String picked = keys().stream()
                .map(key -> "key=" + URLEncoder.encode(key, StandardCharsets.UTF_8))
                .collect(Collectors.joining("&amp;"));
        return "<a class=\"button\" href=\"/" + (picked.isEmpty() ? "" : "?" + picked) + "\">Back</a>";
    }

    void redirect(String address) {
        response.setStatus(HttpServletResponse.SC_SEE_OTHER);
        response.setHeader("Location", address);
    }

    void page(int status, String title, Html content) throws IOException {
        page(status, title, content, "");
    }

    /** Writes a page, with more markup of ours in its head. */
    void page(int status, String title, Html content, String head) throws IOException {
        Html html = new Html();
        html.markup("<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>")
                .text(title);
        html.markup(" – Larkmoor</title><meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">"
                        + "<link rel=\"stylesheet\" href=\"/larkmoor.css\">"
                        + "<script type=\"module\" src=\"/api/deletion.js\"></script>"
                        + "<script type=\"module\" src=\"/larkmoor.js\"></script>")
                .markup(head)
                .markup(
                        "</head><body><header><b>Larkmoor Beekeepers</b><nav aria-label=\"Pages\"><a href=\"/\">Hives</a> · "
                                + "<a href=\"/readings\">Readings</a> · <a href=\"/deleted\">Deleted</a> · "
                                + "<a href=\"/history\">History</a></nav>");
        html.markup(form("/actor").toString()).markup("<label>You are <select name=\"actor\">");
        keepers.forEach((email, name) -> html.markup("<option value=\"")
                .text(email)
                .markup("\"")
                .markup(email.equals(by.actor()) ? " selected>" : ">")
                .text(name)
                .markup("</option>"));
        html.markup("</select></label> <button>OK</button></form></header><main><h1>")
                .text(title)
                .markup("</h1>\n");
        html.markup(content.toString()).markup("</main></body></html>\n");
        write(status, "text/html;charset=UTF-8", html.toString());
    }

    void write(int status, String type, String content) throws IOException {
        response.setStatus(status);
        response.setContentType(type);
        response.setHeader("Cache-Control", "no-store");
        response.setHeader(
                "Content-Security-Policy",
                "default-src 'none'; style-src 'self'; script-src 'self'; connect-src 'self'; img-src 'self';"
                        + " form-action 'self'; frame-ancestors 'none'; base-uri 'none'");
        response.setHeader("Referrer-Policy", "same-origin");
        response.setHeader("X-Content-Type-Options", "nosniff");
        response.getOutputStream().write(content.getBytes(StandardCharsets.UTF_8));
    }
}
