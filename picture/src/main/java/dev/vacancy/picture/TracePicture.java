package dev.vacancy.picture;

import dev.vacancy.trace.Relation;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TracePart;
import dev.vacancy.trace.Treatment;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** A picture of what is known of a person: their record, what hangs on it, and what else tells of them, each with what an erasure does with it. */
public final class TracePicture {
    private static final int LONGEST_REASON = 44;
    private static final String PERSON = "the person";

    private final Trace trace;
    private final Map<String, Diagram.Box> boxes = new LinkedHashMap<>();
    private final Map<String, String> byTable = new LinkedHashMap<>();
    private final List<Diagram.Line> lines = new ArrayList<>();

    private TracePicture(Trace trace) {
        this.trace = trace;
    }

    /**
     * Draws a trace.
     *
     * @param trace what is known
     * @return SVG
     */
    public static String of(Trace trace) {
        TracePicture picture = new TracePicture(trace);
        picture.addPerson();
        trace.parts().stream()
                .filter(part -> part.relation() != Relation.RECORD)
                .forEach(picture::add);
        return Svg.of(new Diagram(picture.title(), picture.boxes, picture.lines));
    }

    private String title() {
        String name = trace.table() + " " + trace.key()
                + trace.label().map(label -> " '" + label + "'").orElse("");
        return trace.isEmpty() ? name + ": nothing is known" : "What is known of " + name;
    }

    private void addPerson() {
        List<String> details = trace.parts().stream()
                .filter(part -> part.relation() == Relation.RECORD)
                .findFirst()
                .map(TracePicture::details)
                .orElse(List.of("the record is gone"));
        Tone tone = trace.parts().stream()
                .filter(part -> part.relation() == Relation.RECORD)
                .map(part -> tone(part.treatment()))
                .findFirst()
                .orElse(Tone.PLAIN);
        boxes.put(PERSON, new Diagram.Box(trace.table() + " " + trace.key(), details, tone));
        byTable.put(trace.table(), PERSON);
    }

    private void add(TracePart part) {
        String name = part.relation() + " " + part.table() + " " + part.where() + " " + part.treatment();
        if (part.relation() == Relation.BELONGING) {
            String known = byTable.putIfAbsent(part.table(), name);
            if (known == null) {
                boxes.put(name, new Diagram.Box(part.table(), details(part), tone(part.treatment())));
            } else {
                name = known;
            }
        } else {
            boxes.put(name, new Diagram.Box(heading(part), details(part), tone(part.treatment())));
        }
        String from = part.under().map(byTable::get).orElse(PERSON);
        lines.add(new Diagram.Line(
                from == null ? PERSON : from,
                name,
                List.of(label(part)),
                tone(part.treatment()),
                part.under().isEmpty()));
    }

    /** A foreign key, where one leads there; else what it has to do with the person. */
    private static String label(TracePart part) {
        return part.under().isPresent()
                ? part.where().substring(part.where().lastIndexOf('.') + 1)
                : part.relation().toString();
    }

    private static String heading(TracePart part) {
        return switch (part.relation()) {
            case TEXT, FOLLOW_UP -> part.where();
            default -> part.table().isEmpty() ? part.relation().toString() : part.table();
        };
    }

    private static List<String> details(TracePart part) {
        List<String> details = new ArrayList<>();
        details.add(String.format(Locale.ROOT, "%,d %s", part.count(), part.treatment()));
        part.reason().map(TracePicture::shortened).ifPresent(details::add);
        return details;
    }

    private static Tone tone(Treatment treatment) {
        return switch (treatment) {
            case DELETE, ERASE -> Tone.GOES;
            case MASK, DETACH, REASSIGN -> Tone.CHANGED;
            case KEEP -> Tone.KEPT;
            case BLOCK -> Tone.FORBIDS;
        };
    }

    private static String shortened(String text) {
        return text.length() <= LONGEST_REASON ? text : text.substring(0, LONGEST_REASON - 1) + "…";
    }
}
