package dev.vacancy.internal.dialect;

import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.Dependent.Kind;
import java.util.List;
import java.util.Optional;

/**
 * Something of a schema that stands on a column or a table.
 *
 * @param kind what it is
 * @param name its name, as people write it
 * @param fate what becomes of it unless it is named to go along
 * @param mayGoAlong whether it may be named
 * @param definition what it is, in the database's own words
 * @param removal statements that take it away before the column or the table is set aside; none if it stays on it
 * @param creation statements that make it again, once the column or the table is there
 * @param remedy what to do about it where it is in the way for good
 * @since 0.1
 */
public record SchemaObject(
        Kind kind,
        String name,
        Fate fate,
        boolean mayGoAlong,
        String definition,
        List<String> removal,
        List<String> creation,
        Optional<String> remedy) {
    /** Keeps its own copies of the lists. */
    public SchemaObject {
        removal = List.copyOf(removal);
        creation = List.copyOf(creation);
    }

    /** What is in the way unless it is named: then it is taken away, and made again. */
    static SchemaObject inTheWay(
            Kind kind, String name, String definition, List<String> removal, List<String> creation) {
        return new SchemaObject(kind, name, Fate.IN_THE_WAY, true, definition, removal, creation, Optional.empty());
    }

    /** What is in the way unless it is named, and stays as it is. */
    static SchemaObject naming(Kind kind, String name, String definition) {
        return inTheWay(kind, name, definition, List.of(), List.of());
    }

    /** What forbids it. */
    static SchemaObject forbidding(Kind kind, String name, String definition, String remedy) {
        return new SchemaObject(
                kind, name, Fate.IN_THE_WAY, false, definition, List.of(), List.of(), Optional.of(remedy));
    }

    /** What is kept apart for as long. */
    static SchemaObject apart(Kind kind, String name, String definition, String removal, String creation) {
        return apart(kind, name, definition, removal, List.of(creation));
    }

    /** What is kept apart for as long, and takes several statements to be made again. */
    static SchemaObject apart(Kind kind, String name, String definition, String removal, List<String> creation) {
        return new SchemaObject(
                kind, name, Fate.KEPT_APART, false, definition, List.of(removal), creation, Optional.empty());
    }

    /** What stays on it, and is made again after a drop. */
    static SchemaObject with(Kind kind, String name, String definition, String... creation) {
        return with(kind, name, definition, List.of(creation));
    }

    /** What stays on it, and is made again after a drop by what was asked for. */
    static SchemaObject with(Kind kind, String name, String definition, List<String> creation) {
        return new SchemaObject(
                kind, name, Fate.GOES_WITH_IT, false, definition, List.of(), creation, Optional.empty());
    }
}
