package dev.vacancy.internal.dialect;

import java.util.List;

/**
 * What stands on a column or a table, and how it is set aside, brought back, dropped and made again.
 *
 * @param objects what stands on it, in the order in which it has to be taken away; it is made again in the reverse order
 * @param setAside statements that set it aside, once what is in the way or kept apart is gone
 * @param back statements that bring it back from there
 * @param removal statements that drop what is set aside
 * @param making statements that make it from nothing, ready to be filled
 * @param completion statements that complete it, once it is filled and before anything stands on it again
 * @param finish statements that end the making
 * @param unknown what the database can't tell, in sentences
 * @since 0.1
 */
public record Shape(
        List<SchemaObject> objects,
        List<String> setAside,
        List<String> back,
        List<String> removal,
        List<String> making,
        List<String> completion,
        List<String> finish,
        List<String> unknown) {
    /** Keeps its own copies of the lists. */
    public Shape {
        objects = List.copyOf(objects);
        setAside = List.copyOf(setAside);
        back = List.copyOf(back);
        removal = List.copyOf(removal);
        making = List.copyOf(making);
        completion = List.copyOf(completion);
        finish = List.copyOf(finish);
        unknown = List.copyOf(unknown);
    }
}
