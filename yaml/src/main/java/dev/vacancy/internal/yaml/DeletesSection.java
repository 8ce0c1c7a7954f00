package dev.vacancy.internal.yaml;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.request.GivenSoftDelete;
import dev.vacancy.internal.request.WrittenRules.SoftTable;
import dev.vacancy.rule.SoftDelete;
import java.time.Period;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads the section {@code deletes} of the configuration: whether the records of a table are marked or go. */
final class DeletesSection {
    private static final String SOFT = "soft";
    private static final String HARD = "hard";
    private static final String ACTOR = "actor-column";
    private static final String TIME = "time-column";
    private static final String REASON = "reason-column";
    private static final String RETENTION = "retention";
    private static final String UNIQUE = "unique";
    private static final String HARD_WHERE = "hard-where";
    private static final List<String> WORDS = List.of(ACTOR, TIME, REASON, RETENTION, UNIQUE, HARD_WHERE);

    private final Problems problems;

    DeletesSection(Problems problems) {
        this.problems = problems;
    }

    List<SoftTable> read(Map<String, YamlNode> entries) {
        List<SoftTable> tables = new ArrayList<>();
        entries.forEach((table, node) ->
                soft(table, node).ifPresent(soft -> tables.add(new SoftTable(problems.at(node.line()), table, soft))));
        return tables;
    }

    private Optional<SoftDelete> soft(String table, YamlNode node) {
        if (node instanceof YamlNode.Scalar scalar) {
            if (scalar.text().equals(SOFT)) {
                return Optional.of(SoftDelete.defaults());
            }
            if (!scalar.text().equals(HARD)) {
                problems.unknown(node.line(), scalar.text(), List.of(SOFT, HARD));
            }
            return Optional.empty();
        }
        Optional<YamlNode> inside = node instanceof YamlNode.Mapping mapping ? mapping.get(SOFT) : Optional.empty();
        if (inside.isEmpty() || !(inside.get() instanceof YamlNode.Mapping words)) {
            problems.add(
                    node.line(),
                    "'" + table + "' is either " + SOFT + " or " + HARD
                            + ", or says more, such as {soft: {retention: P15D}}");
            return Optional.empty();
        }
        return Optional.of(read(words));
    }

    private SoftDelete read(YamlNode.Mapping words) {
        words.entries().forEach((word, value) -> {
            if (!WORDS.contains(word)) {
                problems.unknown(value.line(), word, WORDS);
            }
        });
        SoftDelete soft = new GivenSoftDelete(
                Optional.empty(),
                text(words, ACTOR),
                text(words, TIME),
                text(words, REASON),
                Optional.empty(),
                List.of());
        for (String columns : texts(words, UNIQUE)) {
            soft = soft.uniqueWhileActive(columns.split("\\s*,\\s*", -1));
        }
        Optional<String> retention = text(words, RETENTION);
        if (retention.isPresent()) {
            try {
                soft = soft.keptFor(Period.parse(retention.get()));
            } catch (DateTimeParseException wrong) {
                problems.add(
                        words.get(RETENTION).orElseThrow().line(),
                        "'" + RETENTION + "' must be a period as in ISO 8601, such as P15D or P1Y");
            }
        }
        Optional<String> hard = text(words, HARD_WHERE);
        if (hard.isPresent()) {
            try {
                soft = soft.hardWhere(hard.get());
            } catch (InvalidRequestException wrong) {
                problems.add(
                        words.get(HARD_WHERE).orElseThrow().line(),
                        wrong.problem() + " " + wrong.remedy().replaceAll("\\.$", ""));
            }
        }
        return soft;
    }

    private Optional<String> text(YamlNode.Mapping words, String word) {
        Optional<YamlNode> node = words.get(word);
        if (node.isPresent() && !(node.get() instanceof YamlNode.Scalar)) {
            problems.add(node.get().line(), "'" + word + "' must be a text");
            return Optional.empty();
        }
        return node.map(scalar -> ((YamlNode.Scalar) scalar).text());
    }

    private List<String> texts(YamlNode.Mapping words, String word) {
        Optional<YamlNode> node = words.get(word);
        if (node.isEmpty()) {
            return List.of();
        }
        List<YamlNode> items =
                node.get() instanceof YamlNode.Sequence sequence ? sequence.items() : List.of(node.get());
        List<String> texts = new ArrayList<>();
        for (YamlNode item : items) {
            if (item instanceof YamlNode.Scalar scalar) {
                texts.add(scalar.text());
            } else {
                problems.add(item.line(), "'" + word + "' must be a list of columns");
            }
        }
        return texts;
    }
}
