package dev.vacancy.types;

import static java.util.Objects.requireNonNull;

import com.palantir.javapoet.JavaFile;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Table;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import javax.lang.model.SourceVersion;

/**
 * Java sources with one class for each table of a catalog: its key, columns and links as typed constants.
 *
 * <pre>{@code
 * TableTypes.of(vacancy.catalog(), "larkmoor.tables").write(Path.of("src/main/generated"));
 *
 * vacancy.delete(HIVE.where(HIVE.NAME.like("Fell%")), By.program("nightly"));    // HIVE is a constant of HiveTable
 * RuleBook.bySchema().on(BATCH_HIVE.HIVE_ID, Clause.cascade());
 * }</pre>
 *
 * <p>What is written needs {@code vacancy-core} alone. It is immutable.
 *
 * @since 0.1
 */
public final class TableTypes {
    /** The first line of each file, by which a later run knows what it may replace or remove. */
    static final String MARK = "Made from the catalog of a database; made anew by the same command, so don't edit it.";

    private final String packageName;
    private final Map<String, String> sources;

    private TableTypes(String packageName, Map<String, String> sources) {
        this.packageName = packageName;
        this.sources = sources;
    }

    /**
     * Makes the sources for all tables.
     *
     * @param catalog what the database has, with the links of the rules
     * @param packageName the package of the classes, such as {@code larkmoor.tables}
     * @return the sources
     * @throws InvalidRequestException when that is no name of a package, or there is no table
     */
    public static TableTypes of(Catalog catalog, String packageName) {
        requireNonNull(catalog, "catalog");
        if (!SourceVersion.isName(requireNonNull(packageName, "packageName"))) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "'" + packageName + "' can't be the name of a package.",
                    "Give one such as larkmoor.tables.");
        }
        if (catalog.tables().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.UNKNOWN_TABLE, "There is no table.", "Check the schema and the user's rights.");
        }
        Identifiers classes = new Identifiers();
        Map<String, String> sources = new LinkedHashMap<>();
        for (Table table : catalog.tables()) {
            String name = classes.unique(Identifiers.type(table.name()), "Table");
            JavaFile file = JavaFile.builder(packageName, new TableClass(catalog, table, name).spec())
                    .addFileComment(MARK)
                    .indent("    ")
                    .skipJavaLangImports(true)
                    .build();
            sources.put(name, file.toString());
        }
        return new TableTypes(packageName, Map.copyOf(sources));
    }

    /** {@return the source of each class by its simple name} */
    public Map<String, String> sources() {
        return sources;
    }

    /**
     * Writes the sources: a file that is as it should be already is left alone, one of an earlier run whose table is gone is removed, and
     * one that somebody else wrote is never replaced.
     *
     * @param folder the root of the sources, which is made if need be
     * @return the files that were written or removed, by name
     * @throws IOException if a file can't be read or written
     * @throws InvalidRequestException when a file of that name stands there that wasn't made by this; nothing is written then
     */
    public List<Path> write(Path folder) throws IOException {
        Path home = requireNonNull(folder, "folder").resolve(packageName.replace('.', '/'));
        for (String name : sources.keySet()) {
            Path file = file(home, name);
            if (Files.exists(file) && !isOurs(file)) {
                throw new InvalidRequestException(
                        FailureCode.USAGE,
                        file + " wasn't made from a catalog.",
                        "Give a package of their own to the classes of tables.");
            }
        }
        Files.createDirectories(home);
        List<Path> changed = new ArrayList<>(removed(home));
        for (Map.Entry<String, String> source : sources.entrySet()) {
            Path file = file(home, source.getKey());
            if (!Files.exists(file) || !Files.readString(file).equals(source.getValue())) {
                Files.writeString(file, source.getValue());
                changed.add(file);
            }
        }
        changed.sort(null);
        return List.copyOf(changed);
    }

    private List<Path> removed(Path home) throws IOException {
        List<Path> gone = new ArrayList<>();
        try (Stream<Path> files = Files.list(home)) {
            for (Path file :
                    files.filter(file -> file.toString().endsWith("Table.java")).toList()) {
                String name = file.getFileName().toString();
                if (!sources.containsKey(name.substring(0, name.length() - ".java".length())) && isOurs(file)) {
                    Files.delete(file);
                    gone.add(file);
                }
            }
        }
        return gone;
    }

    private static Path file(Path home, String name) {
        return home.resolve(name + ".java");
    }

    private static boolean isOurs(Path file) throws IOException {
        try (Stream<String> lines = Files.lines(file)) {
            return lines.limit(1).anyMatch(line -> line.contains(MARK));
        }
    }

    @Override
    public String toString() {
        return sources.size() + " classes of tables in " + packageName;
    }
}
