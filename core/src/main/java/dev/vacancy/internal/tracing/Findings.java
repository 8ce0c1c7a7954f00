package dev.vacancy.internal.tracing;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.restoring.Mentions;
import dev.vacancy.internal.restoring.RecordTraces;
import dev.vacancy.internal.restoring.TextElsewhere;
import dev.vacancy.internal.rules.PersonTrace;
import dev.vacancy.internal.rules.PersonTrace.TextPlace;
import dev.vacancy.internal.trail.SoughtText;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiPredicate;

/**
 * What was found of a person, as whoever erases it needs it.
 *
 * @param rules what is looked for
 * @param key the key of the person's record, as the trail spells it
 * @param given the same as it was given
 * @param record the record; empty if it is gone
 * @param planned what becomes of records
 * @param recorded what the trail tells of the record and of what belonged to it; empty without a trail
 * @param sought the texts that the person is known by; empty if there are none
 * @param texts where they stand, by column
 * @param mentions where the trail has them, but for what it tells of the record anyway
 * @param words where the tables of bulk runs have them
 * @param lines the lines of bulk runs that are of the record, or of what belonged to it
 * @param waiting how many messages nobody has handled yet, by table and follow-up
 * @param theirs tells which records are the person's, as far as that is told by table and key
 * @param warnings what a person should know
 */
record Findings(
        PersonTrace rules,
        String key,
        Key given,
        Optional<RecordContent> record,
        Planned planned,
        Optional<RecordTraces> recorded,
        Optional<SoughtText> sought,
        Map<TextPlace, List<TextRows.Row>> texts,
        Optional<Mentions> mentions,
        TextElsewhere.Found words,
        TextElsewhere.Found lines,
        Map<List<String>, Long> waiting,
        BiPredicate<String, String> theirs,
        List<String> warnings) {
    Findings {
        texts = Collections.unmodifiableMap(new LinkedHashMap<>(texts));
        waiting = Collections.unmodifiableMap(new LinkedHashMap<>(waiting));
        warnings = List.copyOf(warnings);
    }

    Table table() {
        return rules.table();
    }
}
