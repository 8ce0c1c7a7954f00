package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntrySealing;
import dev.vacancy.internal.trail.PrunedRun;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.StoredEntry;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.bson.BsonDocument;
import org.bson.BsonUndefined;

/** Writes down the documents of a run as they are, one entry each, before anything is changed. */
final class RunEntries {
    private static final int MOST = 1_000;
    private static final long MOST_CHARACTERS = 4_000_000;

    private final TrailWriting trail;
    private final Rules.Recording recording;
    private final UUID run;
    private final EntrySealing sealing = new EntrySealing();
    private final Map<Integer, Long> places = new HashMap<>();
    private final List<BsonDocument> unwritten = new ArrayList<>();
    private long characters;

    RunEntries(DocumentTrail trail, Rules.Recording recording, UUID run) {
        this.trail = new TrailWriting(trail);
        this.recording = recording;
        this.run = run;
    }

    /** Writes down a document that goes or is changed. */
    void add(int step, Action action, Table table, StepChanges.Changed changed) {
        Optional<String> altered = changed.change().kind() == Change.Kind.UPDATE
                ? Optional.of(altered(table, changed.change()))
                : Optional.empty();
        Recorder.Heading heading = new Recorder.Heading(run, step, action, table.name(), altered);
        add(heading, KeyText.of(changed.change().id()), kept(table, changed.document()), null);
    }

    /** What fields are set to; of those that are taken away, that they are. */
    private String altered(Table table, Change change) {
        BsonDocument altered = change.after().clone();
        change.before().keySet().forEach(name -> altered.putIfAbsent(name, new BsonUndefined()));
        return kept(table, altered);
    }

    private String kept(Table table, BsonDocument document) {
        return ContentText.of(without(recording, table, document));
    }

    /** A document without what the trail leaves out. */
    static BsonDocument without(Rules.Recording recording, Table table, BsonDocument document) {
        BsonDocument kept = document;
        for (Column column : table.columns()) {
            if (recording.isWithheld(table, column)) {
                kept = kept.clone();
                Paths.remove(kept, column.storedName());
            }
        }
        return kept;
    }

    /** Writes down a document that is held. */
    void addHeld(Table table, BsonDocument document) {
        Recorder.Heading heading = new Recorder.Heading(run, 1, Action.HELD, table.name(), Optional.empty());
        BsonDocument key = new BsonDocument(DocumentQuery.ID, document.get(DocumentQuery.ID));
        add(heading, KeyText.of(document.get(DocumentQuery.ID)), ContentText.of(key), null);
    }

    /** Writes down that what an entry tells of is back. */
    void addRestored(int step, StoredEntry original) {
        Recorder.Heading heading = new Recorder.Heading(run, step, Action.RESTORED, original.table(), Optional.empty());
        add(heading, original.key(), null, original.reference());
    }

    /** Writes down that what an entry, or the words of a run, told is erased. */
    void addErased(int step, Action action, String table, String key, String remains, Reference about) {
        add(new Recorder.Heading(run, step, action, table, Optional.empty()), key, remains, about);
    }

    /** Writes down that a run goes. */
    void addPruned(PrunedRun pruned) {
        Recorder.Heading heading = new Recorder.Heading(run, 1, Action.AGED, "", Optional.empty());
        add(heading, String.valueOf(pruned.place()), pruned.content(), null);
    }

    private void add(Recorder.Heading heading, String key, String content, Reference about) {
        StoredEntry entry = sealing.seal(heading, places.merge(heading.step(), 1L, Long::sum), key, content, about);
        if (characters + entry.characters() > MOST_CHARACTERS) {
            flush();
        }
        unwritten.add(EntryDocument.of(entry));
        characters += entry.characters();
        if (unwritten.size() == MOST) {
            flush();
        }
    }

    /** Writes what isn't written yet. */
    void flush() {
        if (!unwritten.isEmpty()) {
            trail.insert(unwritten);
            unwritten.clear();
            characters = 0;
        }
    }
}
