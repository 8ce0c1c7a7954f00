package dev.vacancy.examples.web;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import org.apache.commons.text.StringEscapeUtils;

/** A page in the making: what is written as text can't become markup. */
final class Html {
    private final StringBuilder page = new StringBuilder();

    /** Adds markup of ours. */
    Html markup(String markup) {
        page.append(markup);
        return this;
    }

    /** Adds text, whatever it holds. */
    Html text(Object text) {
        page.append(StringEscapeUtils.escapeHtml4(String.valueOf(text)).replace("'", "&#39;"));
        return this;
    }

    /** Adds an element with text in it. */
    Html element(String name, Object text) {
        return markup("<" + name + ">").text(text).markup("</" + name + ">\n");
    }

    /** Adds a point in time: to the minute in UTC, and by a script in the visitor's zone and way of writing. */
    Html time(Instant at) {
        String minute =
                at.truncatedTo(ChronoUnit.MINUTES).toString().replace('T', ' ').replace(":00Z", "");
        return markup("<time datetime=\"" + at + "\">").text(minute + " UTC").markup("</time>");
    }

    /** Adds a field that travels with a form unseen. */
    Html hidden(String name, Object value) {
        return markup("<input type=\"hidden\" name=\"" + name + "\" value=\"")
                .text(value)
                .markup("\">");
    }

    @Override
    public String toString() {
        return page.toString();
    }
}
