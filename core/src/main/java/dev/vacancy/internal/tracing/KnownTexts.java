package dev.vacancy.internal.tracing;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.internal.rules.PersonTrace;
import dev.vacancy.internal.trail.SoughtText;
import dev.vacancy.internal.trail.StoredEntry;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * The texts that a person is known by: those of their record, and those that the audit trail says it had before.
 *
 * @param texts the texts that are looked for
 * @param tooShort those that aren't, as they would be found in words of any kind
 */
record KnownTexts(Set<String> texts, Set<String> tooShort) {
    static KnownTexts of(PersonTrace rules, Optional<RecordContent> record, List<StoredEntry> entries) {
        List<String> found = new ArrayList<>();
        for (Column column : rules.knownBy()) {
            record.map(content -> content.values().get(column.name())).ifPresent(value -> found.add(value.toString()));
            entries.stream()
                    .flatMap(entry -> Stream.of(entry.image(), entry.alteration()))
                    .flatMap(Optional::stream)
                    .map((Map<String, Object> image) -> image.get(column.name()))
                    .forEach(value -> {
                        if (value instanceof String text) {
                            found.add(text);
                        }
                    });
        }
        Set<String> texts = new LinkedHashSet<>();
        Set<String> tooShort = new LinkedHashSet<>();
        for (String text : found) {
            if (!text.isBlank()) {
                (SoughtText.isLongEnough(text) ? texts : tooShort).add(text.strip());
            }
        }
        return new KnownTexts(texts, tooShort);
    }

    Optional<SoughtText> sought() {
        return texts.isEmpty() ? Optional.empty() : Optional.of(SoughtText.ofAny(texts));
    }
}
