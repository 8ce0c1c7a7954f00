package dev.vacancy.internal.yaml;

import dev.vacancy.internal.request.RuleDerivation;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.request.WrittenRules.IgnoredPlace;
import dev.vacancy.internal.request.WrittenRules.LabelOfTable;
import dev.vacancy.internal.request.WrittenRules.OwnedParent;
import dev.vacancy.internal.request.WrittenRules.RuleOnLink;
import dev.vacancy.internal.request.WrittenRules.UndeclaredLink;
import dev.vacancy.internal.request.WrittenRules.VersionColumn;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.ServerRule;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Reads the sections {@code links}, {@code rules}, {@code labels} and {@code markers} of the configuration. */
final class RulesSections {
    private static final Map<String, ServerRule> SERVER_RULES =
            Stream.of(ServerRule.values()).collect(Collectors.toMap(ServerRule::toString, rule -> rule));

    private final Problems problems;

    RulesSections(Problems problems) {
        this.problems = problems;
    }

    RuleBook read(YamlNode.Mapping whole) {
        List<UndeclaredLink> links = new ArrayList<>();
        entries(whole, "links").forEach((foreignKey, parent) -> {
            if (parent instanceof YamlNode.Scalar scalar && !scalar.text().isBlank()) {
                links.add(new UndeclaredLink(problems.at(parent.line()), foreignKey, scalar.text()));
            } else {
                problems.add(parent.line(), "'" + foreignKey + "' needs the name of its parent's table");
            }
        });
        ClauseReader reader = new ClauseReader(problems);
        List<RuleOnLink> rules = new ArrayList<>();
        entries(whole, "rules")
                .forEach((link, clauses) ->
                        rules.add(new RuleOnLink(problems.at(clauses.line()), link, reader.clauses(clauses))));
        List<OwnedParent> owned = scalars(whole, "owned-parents", "links, such as keeper.address_id").stream()
                .map(link -> new OwnedParent(problems.at(link.line()), link.text()))
                .toList();
        List<LabelOfTable> labels = new ArrayList<>();
        entries(whole, "labels").forEach((table, template) -> {
            if (template instanceof YamlNode.Scalar scalar) {
                labels.add(new LabelOfTable(problems.at(template.line()), table, scalar.text()));
            } else {
                problems.add(template.line(), "the label of '" + table + "' must be a text, such as '{name} ({mark})'");
            }
        });
        List<IgnoredPlace> ignoredChanges = new ArrayList<>();
        scalars(whole, "ignore-changes-in", "tables and columns, such as hive.last_reading_at")
                .forEach(place -> ignoredChanges.add(new IgnoredPlace(problems.at(place.line()), place.text())));
        List<String> schemas = scalars(whole, "schemas", "schemas, such as archive").stream()
                .map(YamlNode.Scalar::text)
                .toList();
        Set<ServerRule> servers = EnumSet.noneOf(ServerRule.class);
        scalars(whole, "servers", SERVER_RULES.keySet().toString()).forEach(word -> {
            if (SERVER_RULES.containsKey(word.text())) {
                servers.add(SERVER_RULES.get(word.text()));
            } else {
                problems.unknown(word.line(), word.text(), List.copyOf(SERVER_RULES.keySet()));
            }
        });
        List<VersionColumn> versions = scalars(whole, "versions", "columns, such as keeper.row_version").stream()
                .map(place -> new VersionColumn(problems.at(place.line()), place.text()))
                .toList();
        return new WrittenRules(
                links,
                rules,
                owned,
                labels,
                new MarkersSection(problems).read(entries(whole, "markers")),
                ignoredChanges,
                schemas,
                new DeletesSection(problems).read(entries(whole, "deletes")),
                versions,
                new ModifiedSection(problems).read(entries(whole, "modified")),
                new ConsentSection(problems).read(entries(whole, "consent")),
                new TrailSection(problems).read(whole.get("trail")),
                new FollowUpsSection(problems).read(entries(whole, "follow-ups")),
                new TracesSection(problems, reader).read(entries(whole, "traces")),
                servers,
                RuleDerivation.NONE);
    }

    private List<YamlNode.Scalar> scalars(YamlNode.Mapping whole, String section, String what) {
        Optional<YamlNode> node = whole.get(section);
        if (node.isEmpty()) {
            return List.of();
        }
        List<YamlNode> items =
                node.get() instanceof YamlNode.Sequence sequence ? sequence.items() : List.of(node.get());
        List<YamlNode.Scalar> scalars = new ArrayList<>();
        for (YamlNode item : items) {
            if (item instanceof YamlNode.Scalar scalar && !scalar.text().isBlank()) {
                scalars.add(scalar);
            } else {
                problems.add(item.line(), "'" + section + "' must be a list of " + what);
            }
        }
        return scalars;
    }

    private Map<String, YamlNode> entries(YamlNode.Mapping whole, String section) {
        Optional<YamlNode> node = whole.get(section);
        if (node.isEmpty()) {
            return Map.of();
        }
        if (node.get() instanceof YamlNode.Mapping mapping) {
            return mapping.entries();
        }
        problems.add(
                node.get().line(),
                "'" + section + "' must be a mapping of "
                        + (List.of("labels", "markers", "deletes", "modified", "consent", "follow-ups", "traces")
                                        .contains(section)
                                ? "tables, such as hive"
                                : "foreign keys, such as inspection.hive_id"));
        return Map.of();
    }
}
