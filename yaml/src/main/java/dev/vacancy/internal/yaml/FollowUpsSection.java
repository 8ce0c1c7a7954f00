package dev.vacancy.internal.yaml;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.request.WrittenRules.FollowUpOfTable;
import dev.vacancy.rule.FollowUp;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads the section {@code follow-ups}: by table and name, the columns that are handed over. */
final class FollowUpsSection {
    private final Problems problems;

    FollowUpsSection(Problems problems) {
        this.problems = problems;
    }

    List<FollowUpOfTable> read(Map<String, YamlNode> tables) {
        List<FollowUpOfTable> followUps = new ArrayList<>();
        tables.forEach((table, node) -> {
            if (node instanceof YamlNode.Mapping names) {
                names.entries()
                        .forEach((name, columns) -> named(name, columns)
                                .ifPresent(followUp -> followUps.add(new FollowUpOfTable(
                                        problems.at(columns.line()),
                                        table,
                                        followUp.columns(columns(name, columns))))));
            } else {
                problems.add(node.line(), "'" + table + "' needs the names of what follows, such as 'files: path'");
            }
        });
        return followUps;
    }

    private Optional<FollowUp> named(String name, YamlNode node) {
        try {
            return Optional.of(FollowUp.named(name));
        } catch (InvalidRequestException wrong) {
            problems.add(node.line(), wrong.problem() + " " + wrong.remedy().replaceAll("\\.$", ""));
            return Optional.empty();
        }
    }

    /** One column, a list of them, or none. */
    private String[] columns(String name, YamlNode node) {
        List<YamlNode> items = node instanceof YamlNode.Sequence sequence ? sequence.items() : List.of(node);
        List<String> columns = new ArrayList<>();
        for (YamlNode item : items) {
            if (!(item instanceof YamlNode.Scalar scalar)) {
                problems.add(item.line(), "'" + name + "' takes a column, or a list of columns");
            } else if (!scalar.text().isBlank()) {
                columns.add(scalar.text());
            }
        }
        return columns.toArray(String[]::new);
    }
}
