package dev.vacancy.site;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.json.JsonMapper;

/** Makes the site: every page that the guide's list and the first page lead to, the files that they show, and the search. */
public final class Site {
    private static final String START = "README.md";
    private static final String GUIDE = "docs/guide/README.md";
    private static final List<String> FURTHER =
            List.of("docs/architecture.md", "docs/benchmarks.md", "CHANGELOG.md", "CONTRIBUTING.md", "SECURITY.md");
    private static final Pattern LINK = Pattern.compile("\\]\\(([^)#\\s]+\\.md)(#[^)]*)?\\)");
    private static final Pattern LUNR = Pattern.compile("version=(\\S+)");

    private final Path repository;
    private final Path folder;

    private Site(Path repository, Path folder) {
        this.repository = repository;
        this.folder = folder;
    }

    /**
     * Makes the site.
     *
     * @param arguments the folder of the repository, and the one to write to
     * @throws IOException when a page can't be read or written
     */
    public static void main(String[] arguments) throws IOException {
        make(Path.of(arguments[0]), Path.of(arguments[1]));
    }

    /** Makes the site in a folder. */
    static void make(Path repository, Path folder) throws IOException {
        new Site(repository, folder).make();
    }

    private void make() throws IOException {
        Reading reading = new Reading(repository);
        List<Document> guide = new ArrayList<>();
        for (String path : inOrder()) {
            guide.add(reading.read(path));
        }
        List<Document> all = new ArrayList<>(guide);
        for (String path : FURTHER) {
            all.add(reading.read(path));
        }
        Set<String> pages = new LinkedHashSet<>(all.stream().map(Document::path).toList());
        Frame frame = new Frame(all);
        for (Document document : all) {
            Rendering rendering = new Rendering(repository, pages, document);
            write(document.page(), frame.around(document, rendering.html()));
            for (Map.Entry<String, String> file : rendering.files().entrySet()) {
                Path target = folder.resolve(file.getValue());
                Files.createDirectories(target.getParent());
                Files.copy(repository.resolve(file.getKey()), target, StandardCopyOption.REPLACE_EXISTING);
            }
        }
        write("search-data.js", "const SECTIONS = " + JsonMapper.shared().writeValueAsString(findable(all)) + ";\n");
        for (String own : List.of("site.css", "search.js")) {
            write(own, new String(resource("/dev/vacancy/site/" + own), StandardCharsets.UTF_8));
        }
        write("lunr.js", new String(resource(lunr()), StandardCharsets.UTF_8));
    }

    /** The first page, the guide's list, and what that leads to, in its order. */
    private List<String> inOrder() throws IOException {
        Set<String> paths = new LinkedHashSet<>(List.of(START, GUIDE));
        Matcher link = LINK.matcher(Files.readString(repository.resolve(GUIDE)));
        while (link.find()) {
            paths.add(Links.resolved(GUIDE, link.group(1)));
        }
        return List.copyOf(paths);
    }

    private static List<Map<String, String>> findable(List<Document> documents) {
        List<Map<String, String>> sections = new ArrayList<>();
        for (Document document : documents) {
            for (Document.Section section : document.sections()) {
                Map<String, String> entry = new LinkedHashMap<>();
                entry.put("page", document.page() + "#" + section.anchor());
                entry.put("of", document.title());
                entry.put("title", section.title());
                entry.put("text", section.text());
                sections.add(entry);
            }
        }
        return sections;
    }

    private static String lunr() throws IOException {
        String properties =
                new String(resource("/META-INF/maven/org.webjars.npm/lunr/pom.properties"), StandardCharsets.UTF_8);
        Matcher version = LUNR.matcher(properties);
        if (!version.find()) {
            throw new IOException("The package of the search doesn't tell its version: " + properties);
        }
        return "/META-INF/resources/webjars/lunr/" + version.group(1) + "/lunr.min.js";
    }

    private static byte[] resource(String path) throws IOException {
        try (InputStream stream = Site.class.getResourceAsStream(path)) {
            if (stream == null) {
                throw new IOException("There is no resource " + path + ".");
            }
            return stream.readAllBytes();
        }
    }

    private void write(String path, String text) throws IOException {
        Path file = folder.resolve(path);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }
}
