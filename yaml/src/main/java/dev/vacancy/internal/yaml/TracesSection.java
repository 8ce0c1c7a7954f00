package dev.vacancy.internal.yaml;

import dev.vacancy.internal.request.WrittenRules.TraceOfTable;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.TraceRule;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads the section {@code traces}: by table, what is known of persons and what an erasure does with it. */
final class TracesSection {
    private static final String KNOWN_BY = "known-by";
    private static final String MASK = "mask";
    private static final String KEEP = "keep";
    private static final String RULES = "rules";
    private static final String RECORD = "record";
    private static final List<String> WORDS = List.of(KNOWN_BY, MASK, KEEP, RULES, RECORD);

    private final Problems problems;
    private final ClauseReader clauses;

    TracesSection(Problems problems, ClauseReader clauses) {
        this.problems = problems;
        this.clauses = clauses;
    }

    List<TraceOfTable> read(Map<String, YamlNode> tables) {
        List<TraceOfTable> traces = new ArrayList<>();
        tables.forEach((table, node) -> {
            if (node instanceof YamlNode.Mapping parts) {
                traces.add(new TraceOfTable(problems.at(node.line()), table, trace(parts)));
            } else {
                problems.add(
                        node.line(),
                        "'" + table + "' needs what is known of persons, such as 'known-by: [name, email]'");
            }
        });
        return traces;
    }

    private TraceRule trace(YamlNode.Mapping parts) {
        parts.entries().forEach((word, value) -> {
            if (!WORDS.contains(word)) {
                problems.unknown(value.line(), word, WORDS);
            }
        });
        TraceRule trace =
                TraceRule.knownBy(texts(KNOWN_BY, parts.get(KNOWN_BY))).masking(texts(MASK, parts.get(MASK)));
        for (Map.Entry<String, YamlNode> kept : mapping(KEEP, parts).entrySet()) {
            trace = trace.keeping(kept.getKey(), reason(kept.getKey(), kept.getValue()));
        }
        for (Map.Entry<String, YamlNode> rule : mapping(RULES, parts).entrySet()) {
            trace = trace.on(rule.getKey(), clauses.clauses(rule.getValue()).toArray(Clause[]::new));
        }
        Map<String, YamlNode> record = mapping(RECORD, parts);
        if (record.isEmpty()) {
            return trace;
        }
        record.forEach((word, value) -> {
            if (!List.of(KEEP, MASK).contains(word)) {
                problems.unknown(value.line(), word, List.of(KEEP, MASK));
            }
        });
        if (!record.containsKey(KEEP)) {
            problems.add(parts.entries().get(RECORD).line(), "'" + RECORD + "' needs '" + KEEP + "' with why it stays");
            return trace;
        }
        return trace.keepingRecord(
                reason(RECORD, record.get(KEEP)), texts(MASK, Optional.ofNullable(record.get(MASK))));
    }

    private Map<String, YamlNode> mapping(String word, YamlNode.Mapping parts) {
        Optional<YamlNode> node = parts.get(word);
        if (node.isEmpty()) {
            return Map.of();
        }
        if (node.get() instanceof YamlNode.Mapping mapping) {
            return mapping.entries();
        }
        problems.add(
                node.get().line(),
                "'" + word + "' must be a mapping of "
                        + (word.equals(RULES)
                                ? "foreign keys, such as inspection.keeper_id"
                                : word.equals(RECORD)
                                        ? "'" + KEEP + "' with a reason and '" + MASK + "' with columns"
                                        : "columns such as newsletter.text, each with a reason"));
        return Map.of();
    }

    private String reason(String what, YamlNode node) {
        if (node instanceof YamlNode.Scalar scalar && !scalar.text().isBlank()) {
            return scalar.text();
        }
        problems.add(node.line(), "'" + what + "' needs why it is kept");
        return "";
    }

    /** One text, a list of them, or none. */
    private String[] texts(String word, Optional<YamlNode> node) {
        List<String> texts = new ArrayList<>();
        List<YamlNode> items = node.isEmpty()
                ? List.of()
                : node.get() instanceof YamlNode.Sequence sequence ? sequence.items() : List.of(node.get());
        for (YamlNode item : items) {
            if (item instanceof YamlNode.Scalar scalar && !scalar.text().isBlank()) {
                texts.add(scalar.text());
            } else {
                problems.add(item.line(), "'" + word + "' must be a list of columns");
            }
        }
        return texts.toArray(String[]::new);
    }
}
