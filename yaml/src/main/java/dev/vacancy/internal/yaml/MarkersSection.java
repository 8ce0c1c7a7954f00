package dev.vacancy.internal.yaml;

import dev.vacancy.internal.request.WrittenRules.MarkerOfTable;
import dev.vacancy.rule.Marker;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads the section {@code markers} of the configuration: how tables mark their soft-deleted records. */
final class MarkersSection {
    private static final String TIMESTAMP = "timestamp";
    private static final String END_DATE = "end-date";
    private static final String NEVER = "never";
    private static final String FLAG = "flag";
    private static final String ACTIVE = "active";
    private static final String GONE = "gone";
    private static final String LATEST_ROW = "latest-row";
    private static final String KEY = "key";
    private static final String CLOSING = "closing";
    private static final List<String> KINDS = List.of(TIMESTAMP, END_DATE, FLAG, LATEST_ROW);
    private static final List<String> WORDS =
            List.of(TIMESTAMP, END_DATE, NEVER, FLAG, ACTIVE, GONE, LATEST_ROW, KEY, CLOSING);
    private static final Map<String, List<String>> COMPANIONS = Map.of(
            NEVER, List.of(END_DATE),
            GONE, List.of(FLAG, LATEST_ROW),
            ACTIVE, List.of(FLAG),
            KEY, List.of(LATEST_ROW),
            CLOSING, List.of(LATEST_ROW));

    private final Problems problems;

    MarkersSection(Problems problems) {
        this.problems = problems;
    }

    List<MarkerOfTable> read(Map<String, YamlNode> entries) {
        List<MarkerOfTable> markers = new ArrayList<>();
        entries.forEach((table, node) -> marker(table, node)
                .ifPresent(marker -> markers.add(new MarkerOfTable(problems.at(node.line()), table, marker))));
        return markers;
    }

    private Optional<Marker> marker(String table, YamlNode node) {
        Map<String, YamlNode> entries = node instanceof YamlNode.Mapping mapping ? mapping.entries() : Map.of();
        entries.forEach((word, value) -> {
            if (!WORDS.contains(word)) {
                problems.unknown(value.line(), word, WORDS);
            }
        });
        List<String> kinds = KINDS.stream().filter(entries::containsKey).toList();
        if (kinds.size() != 1) {
            problems.add(
                    node.line(),
                    "the marker of '" + table + "' has exactly one of " + String.join(", ", KINDS)
                            + ", such as {timestamp: left_at}");
            return Optional.empty();
        }
        String kind = kinds.get(0);
        refuseUseless(kind, entries);
        String column = text(entries.get(kind), kind).orElse("");
        return switch (kind) {
            case TIMESTAMP -> Optional.of(Marker.timestamp(column));
            case END_DATE -> endDate(column, entries);
            case FLAG -> flag(column, node, entries);
            default -> latestRow(column, node, entries);
        };
    }

    private void refuseUseless(String kind, Map<String, YamlNode> entries) {
        entries.forEach((word, node) -> {
            List<String> companions = COMPANIONS.getOrDefault(word, List.of(kind));
            if (!companions.contains(kind)) {
                problems.add(node.line(), "'" + word + "' goes with " + String.join(" or ", companions) + " only");
            }
        });
    }

    private Optional<Marker> endDate(String column, Map<String, YamlNode> entries) {
        if (!entries.containsKey(NEVER)) {
            return Optional.of(Marker.endDate(column));
        }
        String never = text(entries.get(NEVER), NEVER).orElse("");
        try {
            return Optional.of(Marker.endDate(column, LocalDate.parse(never)));
        } catch (DateTimeParseException wrong) {
            problems.add(
                    entries.get(NEVER).line(), "'" + NEVER + "' must be a date as in ISO 8601, such as 9999-12-31");
            return Optional.empty();
        }
    }

    private Optional<Marker> flag(String column, YamlNode node, Map<String, YamlNode> entries) {
        if (!entries.containsKey(ACTIVE)) {
            problems.add(node.line(), "a flag needs '" + ACTIVE + "', the value of active records");
            return Optional.empty();
        }
        Optional<String> gone = entries.containsKey(GONE) ? text(entries.get(GONE), GONE) : Optional.empty();
        return text(entries.get(ACTIVE), ACTIVE)
                .map(active -> gone.map(value -> Marker.flag(column, active, value))
                        .orElseGet(() -> Marker.flag(column, active)));
    }

    private Optional<Marker> latestRow(String column, YamlNode node, Map<String, YamlNode> entries) {
        if (!entries.containsKey(KEY) || !entries.containsKey(CLOSING)) {
            problems.add(
                    node.line(),
                    "a latest row needs '" + KEY
                            + "', the columns that rows which follow each other have in common, and '" + CLOSING
                            + "', the column that tells the row that ends them");
            return Optional.empty();
        }
        List<YamlNode> items =
                entries.get(KEY) instanceof YamlNode.Sequence sequence ? sequence.items() : List.of(entries.get(KEY));
        List<String> key = new ArrayList<>();
        items.forEach(item -> text(item, KEY).ifPresent(key::add));
        Optional<String> gone = entries.containsKey(GONE) ? text(entries.get(GONE), GONE) : Optional.empty();
        return text(entries.get(CLOSING), CLOSING)
                .map(closing -> gone.map(value -> Marker.latestRow(column, closing, value, key))
                        .orElseGet(() -> Marker.latestRow(column, closing, key.toArray(String[]::new))));
    }

    private Optional<String> text(YamlNode node, String word) {
        if (node instanceof YamlNode.Scalar scalar) {
            return Optional.of(scalar.text());
        }
        problems.add(node.line(), "'" + word + "' must be a text");
        return Optional.empty();
    }
}
