package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.ImageSource;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RestoreRecorder;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.Stretch;
import dev.vacancy.rule.Rule;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Says how the database brings back the records of a whole stretch by itself, from their images and without handing one to us, where it
 * alone then sees to everything that could be in their way: its keys and foreign keys refuse a record that collides, and what a record
 * holds is compared with its image as text.
 */
final class StretchInsertion {
    private final Rules rules;
    private final Dialect dialect;
    private final Connection connection;
    private final EntryReader reader;
    private final Recorder recorder;
    private final RestoreRecorder back;
    private final Map<Table, Boolean> fit = new HashMap<>();

    StretchInsertion(Rules rules, Dialect dialect, Connection connection, EntryReader reader) {
        this.rules = rules;
        this.dialect = dialect;
        this.connection = connection;
        this.reader = reader;
        Rules.Recording recording = rules.recording().orElseThrow();
        this.recorder = new Recorder(recording, dialect);
        this.back = new RestoreRecorder(recording, dialect);
    }

    /**
     * How a stretch comes back.
     *
     * @param insertion inserts its records
     * @param found joins each entry with its record, as far as that is there and as its image has it
     */
    record Statement(Fragment insertion, Fragment found) {}

    /** Says how a stretch comes back; empty where its records have to be looked at one by one. */
    Optional<Statement> of(Table table, Stretch stretch) throws SQLException {
        List<Column> columns = recorder.kept(table);
        Optional<ImageSource> images = dialect.readingImages(columns, RestoreRecorder.content());
        if (images.isEmpty() || !stretch.isUntouched() || !isFit(table) || !hasColumns(columns, stretch)) {
            return Optional.empty();
        }
        String into = "insert into " + dialect.name(table) + " (" + String.join(", ", dialect.names(columns)) + ")"
                + dialect.overridingIdentity() + "select "
                + String.join(", ", images.get().values()) + " from ";
        Fragment insertion = back.in(stretch, Fragment.of(images.get().from()))
                .between(into, " order by " + RestoreRecorder.place());
        return Optional.of(new Statement(insertion, found(table, columns)));
    }

    /** By the key first, however many records the database takes that for. */
    private Fragment found(Table table, List<Column> columns) {
        String alias = Statements.alias();
        ImageSource keys = dialect.readingImages(table.identity(), RestoreRecorder.content())
                .orElseThrow();
        List<String> parts = new ArrayList<>();
        for (int i = 0; i < table.identity().size(); i++) {
            parts.add(dialect.name(alias, table.identity().get(i)) + " = "
                    + keys.values().get(i));
        }
        String same = keys.from() + " cross join lateral (select 1 from " + dialect.name(table) + " as " + alias
                + " where " + String.join(" and ", parts) + " and " + RestoreRecorder.content() + " = ";
        return dialect.imageOf(columns, alias).between(same, dialect.evaluatedOnce() + ") as back");
    }

    /** Whether the images have the columns that the table has, no others, and in their order. */
    private boolean hasColumns(List<Column> columns, Stretch stretch) throws SQLException {
        List<String> names = columns.stream().map(Column::name).toList();
        return reader.at(connection, stretch.first())
                .flatMap(StoredEntry::image)
                .filter(image -> names.equals(List.copyOf(image.keySet())))
                .isPresent();
    }

    private boolean isFit(Table table) throws SQLException {
        if (!fit.containsKey(table)) {
            fit.put(
                    table,
                    isEnforced(table) && !dialect.leavesUnchecked(connection, table.schema(), table.storedName()));
        }
        return fit.get(table);
    }

    private boolean isEnforced(Table table) {
        return !table.identity().isEmpty()
                && rules.softness().tables().get(table) == null
                && rules.catalog().links().stream()
                        .filter(link -> link.child().equals(table)
                                && !CatalogLink.of(link).isMirror())
                        .allMatch(this::isEnforced);
    }

    /** Whether the database refuses a record whose parent isn't there, and nothing else has to be known of the parent. */
    private boolean isEnforced(Link link) {
        boolean kept = rules.of(link).stream().allMatch(rule -> rule.rule() == Rule.KEEP);
        return (CatalogLink.of(link).enforced() || kept)
                && !link.parent().equals(link.child())
                && rules.softness().markers().get(link.parent()) == null;
    }

    /** Remembers that records of a table have to be looked at one by one. */
    void exclude(Table table) {
        fit.put(table, false);
    }
}
