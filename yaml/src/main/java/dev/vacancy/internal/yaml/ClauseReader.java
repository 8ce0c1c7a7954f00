package dev.vacancy.internal.yaml;

import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.request.GivenClause;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Reads the clauses on a link: a word, perhaps with a value, perhaps with criteria; or a list of them. */
final class ClauseReader {
    private static final String WHERE = "where";
    private static final List<String> RULES = List.of("cascade", "block", "detach", "reassign", "part of", "keep");
    private static final List<String> CLAUSE_WORDS =
            List.of("cascade", "block", "detach", "reassign", "part of", "keep", WHERE);

    /** What {@code detach} may take beside the field of the link. */
    private static final String ELEMENT = "element";

    private final Problems problems;

    ClauseReader(Problems problems) {
        this.problems = problems;
    }

    List<Clause> clauses(YamlNode node) {
        List<YamlNode> items = node instanceof YamlNode.Sequence sequence ? sequence.items() : List.of(node);
        List<Clause> clauses = new ArrayList<>();
        items.forEach(item -> clause(item).ifPresent(clauses::add));
        return clauses;
    }

    private Optional<Clause> clause(YamlNode node) {
        if (node instanceof YamlNode.Scalar scalar) {
            return clause(scalar.text(), node, Optional.empty());
        }
        if (!(node instanceof YamlNode.Mapping mapping)) {
            problems.add(node.line(), "a clause is one of " + String.join(", ", RULES) + ", perhaps with " + WHERE);
            return Optional.empty();
        }
        List<String> words = mapping.entries().keySet().stream()
                .filter(word -> !word.equals(WHERE))
                .toList();
        if (words.size() != 1) {
            words.stream()
                    .filter(word -> !RULES.contains(word))
                    .forEach(
                            word -> problems.unknown(mapping.entries().get(word).line(), word, CLAUSE_WORDS));
            problems.add(node.line(), "a clause has exactly one of " + String.join(", ", RULES));
            return Optional.empty();
        }
        Optional<Clause> clause = clause(words.get(0), node, mapping.get(words.get(0)));
        return mapping.get(WHERE).isEmpty()
                ? clause
                : clause.flatMap(whole -> narrowed(whole, mapping.get(WHERE).get()));
    }

    private Optional<Clause> clause(String word, YamlNode node, Optional<YamlNode> value) {
        if (!RULES.contains(word)) {
            problems.unknown(node.line(), word, CLAUSE_WORDS);
            return Optional.empty();
        }
        List<Object> values = value.map(ClauseReader::texts).orElse(List.of());
        Rule rule = Rule.valueOf(word.toUpperCase(Locale.ROOT).replace(' ', '_'));
        Optional<String> reason = (rule == Rule.BLOCK || rule == Rule.KEEP) && values.size() == 1
                ? Optional.of(values.get(0).toString())
                : Optional.empty();
        boolean element = rule == Rule.DETACH && values.equals(List.of(ELEMENT));
        if (rule == Rule.DETACH && !element && !values.isEmpty()) {
            problems.add(node.line(), "'" + word + "' takes no value but '" + ELEMENT + "'");
        } else if (reason.isEmpty() && rule != Rule.REASSIGN && !element && !values.isEmpty()) {
            problems.add(node.line(), "'" + word + "' takes no value");
        }
        return Optional.of(
                new GivenClause(rule, Optional.empty(), reason, rule == Rule.REASSIGN ? values : List.of(), element));
    }

    private Optional<Clause> narrowed(Clause clause, YamlNode when) {
        if (!(when instanceof YamlNode.Scalar scalar)) {
            problems.add(when.line(), "'" + WHERE + "' must be a text");
            return Optional.empty();
        }
        try {
            return Optional.of(clause.where(Criteria.parse(scalar.text())));
        } catch (InvalidRequestException wrong) {
            problems.add(when.line(), wrong.problem() + " " + wrong.remedy().replaceAll("\\.$", ""));
            return Optional.empty();
        }
    }

    /** The values of a scalar or a sequence of scalars; nothing for an empty scalar. */
    private static List<Object> texts(YamlNode node) {
        List<YamlNode> items = node instanceof YamlNode.Sequence sequence ? sequence.items() : List.of(node);
        List<Object> texts = new ArrayList<>();
        for (YamlNode item : items) {
            if (item instanceof YamlNode.Scalar scalar && !scalar.text().isEmpty()) {
                texts.add(scalar.text());
            }
        }
        return texts;
    }
}
