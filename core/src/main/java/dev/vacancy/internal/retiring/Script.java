package dev.vacancy.internal.retiring;

import dev.vacancy.internal.dialect.SchemaObject;
import dev.vacancy.internal.dialect.Shape;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.Dependent.Kind;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * How a column or a table is set aside, brought back, dropped and made again: worked out when it is set aside, and kept until it is back.
 *
 * @param changes what sets it aside, in its order; each can be undone
 * @param removal what drops it
 * @param making what makes it from nothing, ready to be filled
 * @param finish what ends that, once it is filled
 * @param kept what stood on it and has to stand there again
 */
record Script(List<Change> changes, List<String> removal, List<String> making, List<Kept> finish, List<Kept> kept) {
    /**
     * One change.
     *
     * @param object what is taken away, as {@link Kept#title} says it; empty where it is set aside itself
     * @param forth the statements that make it
     * @param back those that undo it
     */
    record Change(String object, List<String> forth, List<String> back) {}

    /**
     * Something that stood on it.
     *
     * @param kind what it is
     * @param name its name
     * @param definition in the database's words
     * @param creation what makes it again, perhaps nothing
     */
    record Kept(Kind kind, String name, String definition, List<String> creation) {
        /** What it is called among all that stood there. */
        String title() {
            return kind + " " + name;
        }

        boolean isSame(SchemaObject object) {
            return kind == object.kind() && name.equals(object.name()) && definition.equals(object.definition());
        }
    }

    /** What of a shape is carried out, where some of what is in the way goes along. */
    static Script of(Shape shape, Set<String> along) {
        List<Change> changes = new ArrayList<>();
        List<Kept> kept = new ArrayList<>();
        for (SchemaObject object : shape.objects()) {
            boolean goes = object.fate() == Fate.KEPT_APART || isNamed(object, along);
            if (goes && !object.removal().isEmpty()) {
                changes.add(new Change(object.kind() + " " + object.name(), object.removal(), object.creation()));
            }
            if (object.fate() != Fate.STAYS) {
                kept.add(new Kept(object.kind(), object.name(), object.definition(), object.creation()));
            }
        }
        changes.add(new Change("", shape.setAside(), shape.back()));
        List<Kept> finish = new ArrayList<>();
        shape.completion().forEach(sql -> finish.add(new Kept(Kind.SETTING, "", sql, List.of(sql))));
        kept.forEach(object -> finish.add(shape.completion().size(), object));
        shape.finish().forEach(sql -> finish.add(new Kept(Kind.SETTING, "", sql, List.of(sql))));
        return new Script(
                List.copyOf(changes), shape.removal(), shape.making(), List.copyOf(finish), List.copyOf(kept));
    }

    static boolean isNamed(SchemaObject object, Set<String> along) {
        return object.mayGoAlong() && along.contains(object.name().toLowerCase(Locale.ROOT));
    }

    /** Everything that makes it again, as people would run it. */
    List<String> whole() {
        List<String> whole = new ArrayList<>(making);
        finish.forEach(object -> whole.addAll(object.creation()));
        return whole;
    }

    String text() {
        Map<String, Object> members = new LinkedHashMap<>();
        members.put(
                "changes",
                changes.stream()
                        .map(change -> List.of(change.object(), change.forth(), change.back()))
                        .toList());
        members.put("removal", removal);
        members.put("making", making);
        members.put("finish", finish.stream().map(Script::list).toList());
        members.put("kept", kept.stream().map(Script::list).toList());
        return Image.write(members);
    }

    private static List<Object> list(Kept object) {
        return List.of(object.kind().name(), object.name(), object.definition(), object.creation());
    }

    static Script read(String text) {
        Map<String, Object> members = Image.read(text);
        return new Script(
                lists(members.get("changes")).stream()
                        .map(change ->
                                new Change(String.valueOf(change.get(0)), texts(change.get(1)), texts(change.get(2))))
                        .toList(),
                texts(members.get("removal")),
                texts(members.get("making")),
                kept(members.get("finish")),
                kept(members.get("kept")));
    }

    private static List<Kept> kept(Object written) {
        return lists(written).stream()
                .map(object -> new Kept(
                        Kind.valueOf(String.valueOf(object.get(0))),
                        String.valueOf(object.get(1)),
                        String.valueOf(object.get(2)),
                        texts(object.get(3))))
                .toList();
    }

    private static List<List<?>> lists(Object written) {
        List<List<?>> lists = new ArrayList<>();
        ((List<?>) written).forEach(list -> lists.add((List<?>) list));
        return lists;
    }

    private static List<String> texts(Object written) {
        return ((List<?>) written).stream().map(String::valueOf).toList();
    }
}
