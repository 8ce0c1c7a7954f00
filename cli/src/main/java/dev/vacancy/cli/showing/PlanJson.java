package dev.vacancy.cli.showing;

import dev.vacancy.JsonForm;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.cli.terminal.JsonText;
import java.util.List;
import java.util.Map;

/** Writes what came of a deletion for programs: its plan, and the outcome if there is one. */
public final class PlanJson {
    private PlanJson() {}

    public static String of(Plan plan) {
        return JsonText.write(JsonForm.of(plan));
    }

    /** A deletion that came to no run. */
    public static String of(Plan plan, String status) {
        Map<String, Object> json = JsonText.parts(JsonForm.of(plan));
        json.put("run", null);
        json.put("status", status);
        json.put("deleted", List.of());
        return JsonText.write(json);
    }

    /** A deletion that was done. */
    public static String of(Plan plan, Outcome outcome) {
        Map<String, Object> json = JsonText.parts(JsonForm.of(plan));
        json.put("status", "done");
        json.putAll(JsonText.parts(JsonForm.of(outcome)));
        return JsonText.write(json);
    }
}
