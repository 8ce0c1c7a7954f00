package dev.vacancy.picture;

import dev.vacancy.retirement.Dependent;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.RetirementPlan;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** A picture of a column or a table that retires, and of what stands on it. */
public final class RetirementPicture {
    private static final int LONGEST_NAME = 40;
    private static final int MOST = 6;

    private RetirementPicture() {}

    /**
     * Draws a plan.
     *
     * @param plan what a step of the retirement would do
     * @return SVG
     */
    public static String of(RetirementPlan plan) {
        Map<String, Diagram.Box> boxes = new LinkedHashMap<>();
        List<Diagram.Line> lines = new ArrayList<>();
        boxes.put(
                plan.name(),
                new Diagram.Box(
                        plan.name(), List.of(String.format(Locale.ROOT, "%,d records", plan.filled())), Tone.GOES));
        Map<String, List<String>> groups = new LinkedHashMap<>();
        Map<String, Dependent> first = new LinkedHashMap<>();
        for (Dependent object : plan.dependents()) {
            String group = object.kind() + ", " + object.fate();
            groups.computeIfAbsent(group, missing -> new ArrayList<>()).add(shortened(object.name()));
            first.putIfAbsent(group, object);
        }
        groups.forEach((group, names) -> {
            Dependent object = first.get(group);
            List<String> details = new ArrayList<>(names.subList(0, Math.min(MOST, names.size())));
            if (names.size() > MOST) {
                details.add("and " + (names.size() - MOST) + " more");
            }
            boxes.put(group, new Diagram.Box(object.kind().toString(), details, tone(object.fate())));
            lines.add(new Diagram.Line(
                    plan.name(), group, List.of(object.fate().toString()), tone(object.fate()), false));
        });
        return Svg.of(new Diagram("What stands on " + plan.name(), boxes, lines));
    }

    private static Tone tone(Fate fate) {
        return switch (fate) {
            case IN_THE_WAY, LEFT_TO_FAIL -> Tone.FORBIDS;
            case GOES_ALONG, KEPT_APART -> Tone.CHANGED;
            case GOES_WITH_IT -> Tone.GOES;
            case STAYS -> Tone.KEPT;
        };
    }

    private static String shortened(String name) {
        return name.length() <= LONGEST_NAME ? name : name.substring(0, LONGEST_NAME - 1) + "…";
    }
}
