package dev.vacancy.internal.yaml;

import dev.vacancy.internal.request.WrittenRules.ModifiedColumns;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads the section {@code modified} of the configuration: the columns that say who changed a record last, and when. */
final class ModifiedSection {
    private static final String BY = "by";
    private static final String AT = "at";
    private static final List<String> WORDS = List.of(BY, AT);

    private final Problems problems;

    ModifiedSection(Problems problems) {
        this.problems = problems;
    }

    List<ModifiedColumns> read(Map<String, YamlNode> entries) {
        List<ModifiedColumns> tables = new ArrayList<>();
        entries.forEach((table, node) -> {
            if (node instanceof YamlNode.Mapping words && !words.entries().isEmpty()) {
                words.entries().keySet().stream()
                        .filter(word -> !WORDS.contains(word))
                        .forEach(word -> problems.unknown(node.line(), word, WORDS));
                tables.add(new ModifiedColumns(problems.at(node.line()), table, column(words, BY), column(words, AT)));
            } else {
                problems.add(node.line(), "'" + table + "' needs columns, such as {by: changed_by, at: changed_at}");
            }
        });
        return tables;
    }

    private Optional<String> column(YamlNode.Mapping words, String word) {
        Optional<YamlNode> node = words.get(word);
        if (node.isPresent() && !(node.get() instanceof YamlNode.Scalar)) {
            problems.add(node.get().line(), "'" + word + "' must be the name of a column");
            return Optional.empty();
        }
        return node.map(scalar -> ((YamlNode.Scalar) scalar).text());
    }
}
