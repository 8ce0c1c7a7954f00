package dev.vacancy.site;

import java.nio.file.Path;
import java.util.Set;

/** Where links of the Markdown lead in the site. */
final class Links {
    private static final String MARKDOWN = ".md";
    private static final Set<String> SHOWN = Set.of(".png", ".svg", ".json", ".html");

    private Links() {}

    /** Where the page of a Markdown file is; that of the whole project is the first. */
    static String page(String markdown) {
        return markdown.equals("README.md")
                ? "index.html"
                : markdown.substring(0, markdown.length() - MARKDOWN.length()) + ".html";
    }

    static boolean isMarkdown(String path) {
        return path.endsWith(MARKDOWN);
    }

    /** Whether a link leaves the site, or stays in its page. */
    static boolean leavesOrStays(String target) {
        return target.startsWith("#") || target.matches("[a-z]+:.*");
    }

    /** Where a file that is no page stands: a browser shows sources only as text. */
    static String file(String path) {
        return SHOWN.stream().anyMatch(path::endsWith) ? path : path + ".txt";
    }

    /**
     * Resolves a link.
     *
     * @param from the file with the link
     * @param target where it leads, without what stands behind {@code #}
     * @return the path from the top of the repository
     */
    static String resolved(String from, String target) {
        Path folder = Path.of("/" + from).getParent();
        return folder.resolve(target).normalize().toString().substring(1);
    }

    /** The way from one file of the site to another. */
    static String relative(String from, String target) {
        Path folder = Path.of("/" + from).getParent();
        String way = folder.relativize(Path.of("/" + target)).toString();
        return way.isEmpty() ? "." : way;
    }
}
