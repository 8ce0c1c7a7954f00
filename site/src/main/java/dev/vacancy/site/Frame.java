package dev.vacancy.site;

import java.util.List;

/** What stands around each page: the way to all others, and the search. */
final class Frame {
    private final List<Document> all;

    Frame(List<Document> all) {
        this.all = all;
    }

    String around(Document document, String html) {
        String top = Links.relative(document.page(), "");
        String base = top.equals(".") ? "" : top + "/";
        StringBuilder ways = new StringBuilder();
        for (Document other : all) {
            boolean here = other.path().equals(document.path());
            ways.append("<li><a href=\"")
                    .append(Links.relative(document.page(), other.page()))
                    .append(here ? "\" aria-current=\"page\">" : "\">")
                    .append(escaped(other.title()))
                    .append("</a></li>\n");
        }
        return """
                <!DOCTYPE html>
                <html lang="en" data-base="%1$s">
                <head>
                <meta charset="utf-8">
                <meta name="viewport" content="width=device-width, initial-scale=1">
                <title>%2$s</title>
                <link rel="stylesheet" href="%1$ssite.css">
                </head>
                <body>
                <a class="skip" href="#content">To the text</a>
                <header>
                <a class="name" href="%1$sindex.html">Vacancy</a>
                <search><label for="search">Search</label>
                <input id="search" type="search" autocomplete="off" aria-controls="found">
                <noscript>The search needs scripts.</noscript></search>
                </header>
                <div id="found" role="region" aria-live="polite" aria-label="Found" hidden></div>
                <div class="page">
                <nav aria-label="Pages"><ul>
                %3$s</ul></nav>
                <main id="content">
                %4$s</main>
                </div>
                <script src="%1$slunr.js" defer></script>
                <script src="%1$ssearch-data.js" defer></script>
                <script src="%1$ssearch.js" defer></script>
                </body>
                </html>
                """.formatted(base, title(document), ways, html);
    }

    private static String title(Document document) {
        return document.title().startsWith("Vacancy")
                ? escaped(document.title())
                : escaped(document.title()) + " · Vacancy";
    }

    private static String escaped(String text) {
        return text.replace("&", "&amp;").replace("<", "&lt;").replace("\"", "&quot;");
    }
}
