package dev.vacancy.site;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.commonmark.node.Image;
import org.commonmark.node.Link;
import org.commonmark.node.Node;
import org.commonmark.renderer.html.AttributeProvider;
import org.commonmark.renderer.html.HtmlRenderer;

/** Renders a page, its links led to other pages of the site and to copies of the files that it names. */
final class Rendering {
    private final Path repository;
    private final Set<String> pages;
    private final Document document;
    private final Map<String, String> files = new LinkedHashMap<>();
    private final String html;

    /**
     * Renders a page.
     *
     * @param pages the Markdown files that are pages of the site
     */
    Rendering(Path repository, Set<String> pages, Document document) {
        this.repository = repository;
        this.pages = pages;
        this.document = document;
        this.html = HtmlRenderer.builder()
                .extensions(Reading.EXTENSIONS)
                .attributeProviderFactory(context -> new Leading())
                .escapeHtml(false)
                .build()
                .render(document.body());
    }

    String html() {
        // Wide tables are moved by themselves, not with the page; by the keyboard too.
        return html.replace("<table>", "<div class=\"wide\" tabindex=\"0\"><table>")
                .replace("</table>", "</table></div>")
                // A header without a word says nothing to whoever is read to.
                .replace("<th></th>", "<td></td>")
                .replace("<pre>", "<pre tabindex=\"0\">");
    }

    /** The files that the page shows or leads to, each with its place in the site. */
    Map<String, String> files() {
        return files;
    }

    private final class Leading implements AttributeProvider {
        @Override
        public void setAttributes(Node node, String tag, Map<String, String> attributes) {
            if (node instanceof Link) {
                attributes.computeIfPresent("href", (name, target) -> led(target));
            }
            if (node instanceof Image) {
                attributes.computeIfPresent("src", (name, target) -> led(target));
                attributes.put("loading", "lazy");
            }
        }
    }

    private String led(String target) {
        if (Links.leavesOrStays(target)) {
            return target;
        }
        List<String> parts = List.of(target.split("#", 2));
        String path = Links.resolved(document.path(), parts.get(0));
        String anchor = parts.size() > 1 ? "#" + parts.get(1) : "";
        if (pages.contains(path)) {
            return Links.relative(document.page(), Links.page(path)) + anchor;
        }
        Path file = repository.resolve(path);
        if (Files.isDirectory(file)) {
            // There is no list of a folder's files in a static site; what it is said to be stands in the text.
            return "#";
        }
        files.put(path, Links.file(path));
        return Links.relative(document.page(), Links.file(path)) + anchor;
    }
}
