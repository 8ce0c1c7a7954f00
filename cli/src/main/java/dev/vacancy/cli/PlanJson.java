package dev.vacancy.cli;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.plan.Blocker;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Effect;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Sample;
import dev.vacancy.plan.Skipped;
import dev.vacancy.run.Outcome;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Writes plans and outcomes for programs. {@code docs/output.schema.json} describes the result. */
final class PlanJson {
    private PlanJson() {}

    static String of(Plan plan) {
        return JsonValues.write(plan(plan));
    }

    /** A deletion that came to no run. */
    static String of(Plan plan, String status) {
        Map<String, Object> json = plan(plan);
        json.put("run", null);
        json.put("status", status);
        json.put("deleted", List.of());
        return JsonValues.write(json);
    }

    /** A deletion that was done. */
    static String of(Plan plan, Outcome outcome) {
        Map<String, Object> json = plan(plan);
        json.put("run", outcome.runId().toString());
        json.put("status", "done");
        json.put("counts", outcome.counts());
        json.put("changed", outcome.changed());
        json.put("startedAt", outcome.startedAt().toString());
        json.put("took", outcome.took().toString());
        json.put("deleted", outcome.deleted().stream().map(PlanJson::values).toList());
        return JsonValues.write(json);
    }

    private static Map<String, Object> plan(Plan plan) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("table", plan.table().name());
        json.put("where", plan.selection().criteria().map(Criteria::toString).orElse(null));
        json.put("by", by(plan.by()));
        json.put("records", plan.roots().stream().map(PlanJson::values).toList());
        json.put("notFound", plan.notFound().stream().map(Key::text).toList());
        json.put("counts", plan.counts());
        json.put("effects", plan.effects().stream().map(PlanJson::effect).toList());
        json.put("blockers", plan.blockers().stream().map(PlanJson::blocker).toList());
        json.put("skipped", plan.skipped().stream().map(PlanJson::skipped).toList());
        json.put("fingerprint", plan.fingerprint());
        return json;
    }

    private static Map<String, Object> by(By by) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("actor", by.actor());
        json.put("reason", by.reason().orElse(null));
        return json;
    }

    private static Map<String, Object> values(RecordContent content) {
        return JsonValues.of(content.values());
    }

    private static Map<String, Object> effect(Effect effect) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("table", effect.link().child().name());
        json.put("link", effect.link().where());
        json.put("parent", effect.link().parent().name());
        json.put("rule", effect.rule().toString());
        json.put("newParent", effect.newParent().map(Key::text).orElse(null));
        json.put("count", effect.count());
        json.put("samples", effect.samples().stream().map(PlanJson::sample).toList());
        return json;
    }

    private static Map<String, Object> blocker(Blocker blocker) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("table", blocker.link().child().name());
        json.put("link", blocker.link().where());
        json.put("parent", blocker.link().parent().name());
        json.put("reason", blocker.reason());
        json.put("count", blocker.count());
        json.put("children", blocker.children().stream().map(PlanJson::child).toList());
        return json;
    }

    private static Map<String, Object> skipped(Skipped skipped) {
        Map<String, Object> json = sample(Sample.of(skipped.root()));
        json.put("blockers", skipped.blockers().stream().map(PlanJson::blocker).toList());
        return json;
    }

    private static Map<String, Object> child(Blocker.Child child) {
        Map<String, Object> json = sample(child.record());
        json.put("way", child.way());
        return json;
    }

    private static Map<String, Object> sample(Sample sample) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("key", sample.key().map(Key::text).orElse(null));
        json.put("label", sample.label().orElse(null));
        return json;
    }
}
