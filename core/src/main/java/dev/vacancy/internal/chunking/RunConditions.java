package dev.vacancy.internal.chunking;

import dev.vacancy.criteria.Selection;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.plan.By;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Rules;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a run was approved and started with and its workers need, beside what can be seen of it.
 *
 * @param handedOver who takes over children: the new parent's key by the link
 * @param manner whether the records go as the rule of their table says, for good, or are purged
 * @param exemption the name of the exemption; empty for none
 * @param byProgram whether a program asked for it
 * @param standing the approval
 */
record RunConditions(
        Map<String, List<?>> handedOver, Manner manner, String exemption, boolean byProgram, Gate.Standing standing) {
    private static final String TO = "to";
    private static final String MANNER = "manner";
    private static final String EXEMPTION = "exemption";
    private static final String PROGRAM = "program";
    private static final String DATABASE = "database";
    private static final String REQUEST = "request";
    private static final String GIVEN = "given";
    private static final String COLLEAGUE = "colleague";

    /** Whether records are marked or go. */
    enum Manner {
        BY_RULE,
        HARD,
        PURGE
    }

    static RunConditions of(Selection selection, Rules rules, String exemption, By by, Gate.Standing standing) {
        Map<String, List<?>> handedOver = new LinkedHashMap<>();
        selection
                .newParents()
                .forEach((where, key) -> handedOver.put(
                        where, key.resolve(rules.catalog().link(where).parent()).storable()));
        Manner manner = selection.isPurge() ? Manner.PURGE : selection.isForGood() ? Manner.HARD : Manner.BY_RULE;
        return new RunConditions(handedOver, manner, exemption, by.isProgram(), standing);
    }

    /** All but the rules' digest as a JSON object, for the run's line. */
    String text() {
        Map<String, Object> text = new LinkedHashMap<>();
        if (!handedOver.isEmpty()) {
            text.put(
                    TO,
                    handedOver.entrySet().stream()
                            .map(to -> List.of(to.getKey(), to.getValue()))
                            .toList());
        }
        text.put(MANNER, manner.name());
        text.put(EXEMPTION, exemption);
        text.put(PROGRAM, String.valueOf(byProgram));
        text.put(DATABASE, standing.scope().database());
        text.put(REQUEST, standing.scope().request());
        text.put(GIVEN, standing.given().name());
        standing.colleague().ifPresent(other -> text.put(COLLEAGUE, other.actor()));
        return Image.write(text);
    }

    /** Reads what {@link #text} gives. A line that lacks some of it is of no approval that could be carried out here. */
    static RunConditions read(String text, String rules) {
        Map<String, Object> read = Image.read(text);
        Map<String, List<?>> handedOver = new LinkedHashMap<>();
        if (read.get(TO) instanceof List<?> links) {
            links.forEach(to -> handedOver.put(String.valueOf(((List<?>) to).get(0)), (List<?>) ((List<?>) to).get(1)));
        }
        Scope scope = new Scope(word(read, DATABASE, ""), rules, word(read, REQUEST, ""));
        return new RunConditions(
                handedOver,
                Manner.valueOf(word(read, MANNER, Manner.BY_RULE.name())),
                word(read, EXEMPTION, ""),
                Boolean.parseBoolean(word(read, PROGRAM, "")),
                new Gate.Standing(
                        scope,
                        Consent.valueOf(word(read, GIVEN, Consent.NONE.name())),
                        Optional.ofNullable(read.get(COLLEAGUE)).map(name -> By.user(name.toString()))));
    }

    private static String word(Map<String, Object> read, String name, String otherwise) {
        return read.getOrDefault(name, otherwise).toString();
    }

    /** Selects records, with who takes over their children. */
    Selection select(Selection selection) {
        Selection whole = switch (manner) {
            case BY_RULE -> selection;
            case HARD -> selection.forGood();
            case PURGE -> selection.purging();
        };
        for (Map.Entry<String, List<?>> to : handedOver.entrySet()) {
            whole = whole.reassigning(to.getKey(), to.getValue().toArray());
        }
        return whole;
    }
}
