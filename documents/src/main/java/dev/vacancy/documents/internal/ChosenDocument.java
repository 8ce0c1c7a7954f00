package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.restoring.RecordInTrail;
import dev.vacancy.internal.restoring.Undoing;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredEntry;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.bson.BsonDocument;

/** One document of some runs, and what went or changed with it: whatever referred to it, and to that, to any depth. */
final class ChosenDocument {
    private final Rules rules;
    private final Set<Reference> entries = new HashSet<>();
    private final Map<Link, Set<Object>> referred = new HashMap<>();

    private ChosenDocument(Rules rules) {
        this.rules = rules;
    }

    /** Finds what belongs together; empty if the runs have no such document. */
    static Optional<ChosenDocument> of(DocumentTrail trail, Undoing undoing, RecordInTrail record) {
        ChosenDocument chosen = new ChosenDocument(undoing.rules());
        int before;
        do {
            before = chosen.entries.size();
            for (UUID run : undoing.runs()) {
                trail.each(RunNumber.of(run), portion -> portion.forEach(entry -> chosen.look(entry, record)));
            }
        } while (chosen.entries.size() > before);
        return chosen.entries.isEmpty() ? Optional.empty() : Optional.of(chosen);
    }

    /** All of them. */
    Set<Reference> entries() {
        return entries;
    }

    boolean contains(StoredEntry entry) {
        return entries.contains(entry.reference());
    }

    private void look(StoredEntry entry, RecordInTrail record) {
        Optional<Table> table = Restoring.table(rules.catalog(), entry.table());
        if (table.isEmpty() || entry.content() == null || contains(entry)) {
            return;
        }
        BsonDocument document = ContentText.read(entry.content());
        boolean root = entry.table().equals(record.table()) && entry.keyText().equals(record.key());
        if (!root && rules.catalog().linksFrom(table.get()).stream().noneMatch(link -> hangs(link, document))) {
            return;
        }
        entries.add(entry.reference());
        if (entry.action().removes()) {
            for (Link link : rules.catalog().linksTo(table.get())) {
                Set<Object> values = referred.computeIfAbsent(link, none -> new HashSet<>());
                Obstacles.values(document, link.parentColumns()).forEach(values::add);
            }
        }
    }

    private boolean hangs(Link link, BsonDocument document) {
        Set<Object> values = referred.getOrDefault(link, Set.of());
        List<Object> own = Obstacles.values(document, link.childColumns()).toList();
        return own.stream().anyMatch(values::contains);
    }
}
