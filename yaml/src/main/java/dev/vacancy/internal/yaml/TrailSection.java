package dev.vacancy.internal.yaml;

import dev.vacancy.internal.request.GivenTrail;
import dev.vacancy.rule.Trail;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Reads the section {@code trail} of the configuration: whether what happens is written down, and where. */
final class TrailSection {
    private static final List<String> WORDS = List.of("schema", "runs", "entries", "withhold");

    private final Problems problems;

    TrailSection(Problems problems) {
        this.problems = problems;
    }

    Optional<Trail> read(Optional<YamlNode> node) {
        if (node.isEmpty()) {
            return Optional.empty();
        }
        if (node.get() instanceof YamlNode.Scalar scalar) {
            if (scalar.text().equals("on") || scalar.text().equals("true")) {
                return Optional.of(Trail.defaults());
            }
            if (!scalar.text().equals("off") && !scalar.text().equals("false")) {
                problems.unknown(node.get().line(), scalar.text(), List.of("on", "off"));
            }
            return Optional.empty();
        }
        if (!(node.get() instanceof YamlNode.Mapping words)) {
            problems.add(node.get().line(), "'trail' is on or off, or a mapping with " + String.join(", ", WORDS));
            return Optional.empty();
        }
        words.entries().forEach((word, value) -> {
            if (!WORDS.contains(word)) {
                problems.unknown(value.line(), word, WORDS);
            }
        });
        Trail usual = Trail.defaults();
        return Optional.of(new GivenTrail(
                text(words, "schema"),
                text(words, "runs").orElse(usual.runs()),
                text(words, "entries").orElse(usual.entries()),
                withheld(words)));
    }

    private Optional<String> text(YamlNode.Mapping words, String word) {
        return words.get(word)
                .filter(YamlNode.Scalar.class::isInstance)
                .map(scalar -> ((YamlNode.Scalar) scalar).text());
    }

    private List<String> withheld(YamlNode.Mapping words) {
        List<String> columns = new ArrayList<>();
        words.get("withhold").ifPresent(node -> {
            List<YamlNode> items = node instanceof YamlNode.Sequence sequence ? sequence.items() : List.of(node);
            for (YamlNode item : items) {
                if (item instanceof YamlNode.Scalar scalar) {
                    columns.add(scalar.text());
                } else {
                    problems.add(item.line(), "'withhold' must be a list of columns, such as keeper.pin");
                }
            }
        });
        return columns;
    }
}
