package dev.vacancy.internal.chunking;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.rule.Consent;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What a run was approved and started with and its workers need, beside what can be seen of it.
 *
 * @param handedOver who takes over children: the new parent's key by the link
 * @param manner whether the records go as the rule of their table says, for good, or are purged
 * @param exemption the name of the exemption; empty for none
 * @param byProgram whether a program asked for it
 * @param standing the approval
 * @param moment the moment that relative times in the criteria are told from
 * @param criteria what a record must still match when it comes to it; empty where that doesn't matter
 */
record RunConditions(
        Map<String, List<?>> handedOver,
        Manner manner,
        String exemption,
        boolean byProgram,
        Gate.Standing standing,
        Optional<Criteria> criteria,
        Instant moment) {
    private static final String TO = "to";
    private static final String MANNER = "manner";
    private static final String EXEMPTION = "exemption";
    private static final String PROGRAM = "program";
    private static final String DATABASE = "database";
    private static final String REQUEST = "request";
    private static final String GIVEN = "given";
    private static final String COLLEAGUE = "colleague";
    private static final String WHERE = "where";
    private static final String MOMENT = "moment";
    private static final int LONGEST = 2_000;

    /** Whether records are marked or go. */
    enum Manner {
        BY_RULE,
        HARD,
        PURGE
    }

    static RunConditions of(
            Selection selection, Rules rules, BulkOptions options, By by, Instant moment, Gate.Standing standing) {
        Map<String, List<?>> handedOver = new LinkedHashMap<>();
        selection
                .newParents()
                .forEach((where, key) -> handedOver.put(
                        where,
                        RecordKey.of(GivenKeys.resolve(
                                        key, rules.catalog().link(where).parent()))
                                .storable()));
        Manner manner = selection.isPurge() ? Manner.PURGE : selection.isHard() ? Manner.HARD : Manner.BY_RULE;
        return new RunConditions(
                handedOver,
                manner,
                options.exemption().name(),
                by.isProgram(),
                standing,
                options.asSelected() ? Optional.empty() : selection.criteria().filter(RunConditions::isWritable),
                moment);
    }

    /** Some criteria are made by ourselves and have no text that is read again; they say when they were met, not what is met now. */
    private static boolean isWritable(Criteria criteria) {
        try {
            return Criteria.parse(criteria.toString()).toString().equals(criteria.toString());
        } catch (InvalidRequestException ours) {
            return false;
        }
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
        criteria.ifPresent(where -> {
            text.put(WHERE, where.toString());
            text.put(MOMENT, moment.toString());
        });
        String written = Image.write(text);
        boolean held = criteria.isPresent();
        if (held && (written.length() > LONGEST || criteria.get().toString().length() > BulkRuns.LONGEST_CRITERIA)) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "The criteria of this bulk run, of "
                            + criteria.get().toString().length()
                            + " characters, are too long to be held against each record when it comes to it.",
                    "Say the same in " + BulkRuns.LONGEST_CRITERIA
                            + " characters, select by keys, or delete what was selected when it began:"
                            + " deletingAsSelected(), --as-selected.");
        }
        return written;
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
                        Optional.ofNullable(read.get(COLLEAGUE)).map(name -> By.user(name.toString()))),
                Optional.ofNullable(read.get(WHERE)).map(where -> Criteria.parse(where.toString())),
                Instant.parse(word(read, MOMENT, Instant.EPOCH.toString())));
    }

    /** Those parts of what {@link #text} gives that say something of records or people, as text. */
    static String words(String text) {
        Map<String, Object> read = Image.read(text);
        return Stream.of(TO, WHERE, COLLEAGUE)
                .filter(read::containsKey)
                .map(name -> read.get(name).toString())
                .collect(Collectors.joining(" "));
    }

    private static String word(Map<String, Object> read, String name, String otherwise) {
        return read.getOrDefault(name, otherwise).toString();
    }

    /** Selects records, with who takes over their children. */
    Selection select(Selection selection) {
        Selection whole = switch (manner) {
            case BY_RULE -> selection;
            case HARD -> selection.hard();
            case PURGE -> selection.purging();
        };
        for (Map.Entry<String, List<?>> to : handedOver.entrySet()) {
            whole = whole.reassigning(to.getKey(), to.getValue().toArray());
        }
        return whole;
    }
}
