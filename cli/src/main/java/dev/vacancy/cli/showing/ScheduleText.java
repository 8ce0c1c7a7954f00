package dev.vacancy.cli.showing;

import dev.vacancy.schedule.ScheduledDeletion;
import dev.vacancy.schedule.Upcoming;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;

/** Writes scheduled deletions, for people and for programs. */
public final class ScheduleText {
    private ScheduleText() {}

    /** A paragraph for each. */
    public static String of(List<Upcoming> all) {
        List<String> lines = new ArrayList<>();
        for (Upcoming upcoming : all) {
            ScheduledDeletion deletion = upcoming.deletion();
            lines.add("Scheduled '" + deletion.name() + "', due " + upcoming.due());
            lines.add("  " + deletion.words());
            lines.add("  by " + deletion.by().actor()
                    + deletion.by().reason().map(why -> ", because: " + why).orElse(""));
            upcoming.last().ifPresent(last -> lines.add("  last " + last));
        }
        return String.join(System.lineSeparator(), lines);
    }

    /** Beside bulk runs, with what both have under the same names. */
    public static Map<String, Object> view(Upcoming upcoming) {
        ScheduledDeletion deletion = upcoming.deletion();
        OptionalLong most = deletion.atMost();
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("run", null);
        view.put("name", deletion.name());
        view.put("table", deletion.table());
        view.put("selection", deletion.words());
        view.put("actor", deletion.by().actor());
        view.put("reason", deletion.by().reason().orElse(null));
        view.put("state", "scheduled");
        view.put("done", 0);
        view.put("skipped", 0);
        view.put("failed", 0);
        view.put("startedAt", null);
        view.put("dueAt", upcoming.due().toString());
        view.put("every", deletion.timing().every().orElse(null));
        view.put("atMost", most.isPresent() ? most.getAsLong() : null);
        view.put("last", upcoming.last().orElse(null));
        return view;
    }
}
