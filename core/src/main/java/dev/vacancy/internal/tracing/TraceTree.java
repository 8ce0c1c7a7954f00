package dev.vacancy.internal.tracing;

import dev.vacancy.Sample;
import dev.vacancy.trace.Relation;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TracePart;
import dev.vacancy.trace.Treatment;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.stream.Collectors;

/** Draws a trace: the person's record on top, below it what hangs on it, and what else tells of them. */
final class TraceTree {
    private final Trace trace;
    private final BiFunction<Treatment, String, String> words;
    private final List<Line> lines = new ArrayList<>();
    private final Set<String> opened = new HashSet<>();

    private TraceTree(Trace trace, BiFunction<Treatment, String, String> words) {
        this.trace = trace;
        this.words = words;
        this.opened.add(trace.table());
    }

    private record Line(String branch, String count, String remark) {}

    static String of(Trace trace, BiFunction<Treatment, String, String> words) {
        return new TraceTree(trace, words).text();
    }

    private String text() {
        List<TracePart> top = new ArrayList<>();
        trace.parts().stream()
                .filter(part -> part.under().isEmpty() || part.under().get().equals(trace.table()))
                .forEach(top::add);
        draw(top, "");
        int branch = lines.stream().mapToInt(line -> line.branch.length()).max().orElse(1);
        int count = lines.stream().mapToInt(line -> line.count.length()).max().orElse(1);
        String format = "\n%-" + branch + "s  %" + count + "s  %s";
        return heading()
                + lines.stream()
                        .map(line -> String.format(Locale.ROOT, format, line.branch, line.count, line.remark))
                        .collect(Collectors.joining());
    }

    private String heading() {
        String name = trace.table() + " "
                + trace.parts().stream()
                        .filter(part -> part.relation() == Relation.RECORD)
                        .flatMap(part -> part.samples().stream())
                        .findFirst()
                        .orElseGet(() -> Sample.plain(trace.key()));
        if (!trace.isThere()) {
            return name + (trace.isEmpty() ? ": nothing is known" : ": the record is gone; what is left of it");
        }
        return name;
    }

    private void draw(List<TracePart> parts, String indent) {
        for (int i = 0; i < parts.size(); i++) {
            TracePart part = parts.get(i);
            boolean last = i == parts.size() - 1;
            lines.add(new Line(
                    indent + (last ? "└─ " : "├─ ") + name(part),
                    String.format(Locale.ROOT, "%,d", part.count()),
                    said(part) + why(part) + samples(part)));
            if (part.relation() == Relation.BELONGING && opened.add(part.table())) {
                draw(below(part), indent + (last ? "   " : "│  "));
            }
        }
    }

    /** What hangs on these records, drawn where they are met first. */
    private List<TracePart> below(TracePart part) {
        return trace.parts().stream()
                .filter(child -> child.under().filter(part.table()::equals).isPresent())
                .toList();
    }

    private static String name(TracePart part) {
        return switch (part.relation()) {
            case RECORD -> "the record itself";
            case BELONGING, MENTION -> part.where();
            case TEXT -> "text in " + part.where();
            case TRAIL -> "audit trail of " + part.where();
            case WORDS -> "words of runs" + (part.where().isEmpty() ? "" : " on " + part.where());
            case BULK_RUN -> "bulk runs on " + part.where();
            case FOLLOW_UP -> "follow-up " + part.where() + " of " + part.table();
        };
    }

    private String said(TracePart part) {
        return words.apply(part.treatment(), part.treatment().toString());
    }

    private static String why(TracePart part) {
        return part.reason().map(reason -> ", " + reason).orElse("");
    }

    private static String samples(TracePart part) {
        if (part.samples().isEmpty() || part.relation() == Relation.RECORD) {
            return "";
        }
        return ": " + String.join(", ", part.samples())
                + (part.count() > part.samples().size() ? ", …" : "");
    }
}
