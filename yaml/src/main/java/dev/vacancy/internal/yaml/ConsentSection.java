package dev.vacancy.internal.yaml;

import dev.vacancy.internal.request.WrittenRules.ConsentOfTable;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads the section {@code consent} of the configuration: how hard people are asked before records of a table go. */
final class ConsentSection {
    private static final String LEAST = "least";
    private static final String NUMBER_BEYOND = "number-beyond";
    private static final String NO_WAY_BACK = "no-way-back";
    private static final String COLLEAGUE = "colleague";
    private static final List<String> WORDS = List.of(LEAST, NUMBER_BEYOND, NO_WAY_BACK, COLLEAGUE);
    private static final List<String> CONSENTS =
            Arrays.stream(Consent.values()).map(Consent::toString).toList();

    private final Problems problems;

    ConsentSection(Problems problems) {
        this.problems = problems;
    }

    List<ConsentOfTable> read(Map<String, YamlNode> entries) {
        List<ConsentOfTable> rules = new ArrayList<>();
        entries.forEach(
                (table, node) -> rules.add(new ConsentOfTable(problems.at(node.line()), table, rule(table, node))));
        return rules;
    }

    private ConsentRule rule(String table, YamlNode node) {
        if (node instanceof YamlNode.Scalar) {
            return ConsentRule.atLeast(consent(node));
        }
        if (!(node instanceof YamlNode.Mapping words) || words.entries().isEmpty()) {
            problems.add(
                    node.line(),
                    "'" + table + "' takes one of " + String.join(", ", CONSENTS)
                            + ", or says more, such as {least: yes, no-way-back: label}");
            return ConsentRule.atLeast(Consent.YES);
        }
        words.entries().forEach((word, value) -> {
            if (!WORDS.contains(word)) {
                problems.unknown(value.line(), word, WORDS);
            }
        });
        ConsentRule rule =
                ConsentRule.atLeast(words.get(LEAST).map(this::consent).orElse(Consent.YES));
        Optional<YamlNode> wayBack = words.get(NO_WAY_BACK);
        if (wayBack.isPresent()) {
            rule = rule.withoutWayBack(consent(wayBack.get()));
        }
        if (words.get(COLLEAGUE).map(this::isTrue).orElse(false)) {
            rule = rule.withColleague();
        }
        Optional<YamlNode> beyond = words.get(NUMBER_BEYOND);
        return beyond.isPresent() ? rule.numberBeyond(number(beyond.get())) : rule;
    }

    private boolean isTrue(YamlNode node) {
        String word = node instanceof YamlNode.Scalar scalar ? scalar.text() : "";
        if (!word.equals("true") && !word.equals("false")) {
            problems.add(node.line(), "'" + COLLEAGUE + "' must be true or false");
        }
        return word.equals("true");
    }

    private Consent consent(YamlNode node) {
        String word = node instanceof YamlNode.Scalar scalar ? scalar.text() : "";
        Optional<Consent> consent = Arrays.stream(Consent.values())
                .filter(each -> each.toString().equals(word))
                .findFirst();
        if (consent.isEmpty()) {
            problems.unknown(node.line(), word, CONSENTS);
        }
        return consent.orElse(Consent.YES);
    }

    private long number(YamlNode node) {
        String text = node instanceof YamlNode.Scalar scalar ? scalar.text() : "";
        if (text.matches("[0-9]{1,18}")) {
            return Long.parseLong(text);
        }
        problems.add(node.line(), "'" + NUMBER_BEYOND + "' must be a whole number, 0 or more");
        return 0;
    }
}
