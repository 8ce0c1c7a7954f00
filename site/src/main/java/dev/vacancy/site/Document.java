package dev.vacancy.site;

import java.util.List;
import org.commonmark.node.Node;

/**
 * A page that was written in Markdown.
 *
 * @param path where it is in the repository, such as {@code docs/guide/ask.md}
 * @param title its first heading
 * @param body the Markdown as it was parsed
 * @param sections what can be found in it
 */
record Document(String path, String title, Node body, List<Section> sections) {
    /**
     * A heading with what stands below it.
     *
     * @param anchor the identifier of the heading in the page
     * @param title the heading
     * @param text what stands below it, without markup
     */
    record Section(String anchor, String title, String text) {}

    /** Where the page is in the site, such as {@code docs/guide/ask.html}. */
    String page() {
        return Links.page(path);
    }
}
