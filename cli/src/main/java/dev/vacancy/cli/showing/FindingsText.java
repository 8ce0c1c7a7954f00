package dev.vacancy.cli.showing;

import dev.vacancy.rule.Finding;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Writes findings for people, those of one kind together. */
public final class FindingsText {
    private static final String LINE = System.lineSeparator();

    private FindingsText() {}

    public static String of(List<Finding> findings) {
        if (findings.isEmpty()) {
            return "Nothing found: schema and rules are sound.";
        }
        Map<Finding.Kind, List<Finding>> byKind = findings.stream()
                .collect(Collectors.groupingBy(Finding::kind, LinkedHashMap::new, Collectors.toList()));
        return byKind.entrySet().stream()
                        .map(kind -> kind.getKey()
                                + LINE
                                + kind.getValue().stream()
                                        .map(FindingsText::text)
                                        .collect(Collectors.joining(LINE)))
                        .collect(Collectors.joining(LINE + LINE))
                + LINE
                + LINE
                + (findings.size() == 1 ? "1 finding." : findings.size() + " findings.");
    }

    private static String text(Finding finding) {
        return "  " + finding.where() + LINE + "    why     " + finding.why() + LINE + "    remedy  "
                + finding.remedy();
    }
}
