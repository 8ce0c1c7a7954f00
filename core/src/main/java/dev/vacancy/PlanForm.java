package dev.vacancy;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/** A plan as maps, lists, text and numbers. */
final class PlanForm {
    private PlanForm() {}

    static Map<String, Object> of(Plan plan) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("table", plan.table().name());
        form.put("where", plan.selection().criteria().map(Criteria::toString).orElse(null));
        form.put("by", of(plan.by()));
        form.put("allRecords", plan.selection().isOfAllRecords());
        form.put("selected", plan.selected());
        form.put("ofTable", plan.ofTable().isPresent() ? plan.ofTable().getAsLong() : null);
        form.put(
                "records", plan.roots().stream().map(RecordContent::plainValues).toList());
        form.put("notFound", plan.notFound().stream().map(Key::text).toList());
        form.put("alreadyDeleted", plan.alreadyDeleted().stream().map(Key::text).toList());
        form.put("counts", plan.counts());
        form.put("marked", List.copyOf(plan.marked()));
        form.put("onOtherServers", List.copyOf(plan.onOtherServers()));
        form.put("transactional", plan.transactional());
        form.put("ignoredChanges", changing(plan));
        form.put("inactive", plan.inactive());
        form.put("effects", plan.effects().stream().map(PlanForm::of).toList());
        form.put("touched", plan.touched());
        form.put("blockers", plan.blockers().stream().map(PlanForm::of).toList());
        form.put("holds", plan.holds().stream().map(PlanForm::of).toList());
        form.put("warnings", plan.warnings());
        form.put("recorded", plan.recorded());
        form.put("consent", plan.consent().toString());
        form.put("colleague", plan.colleague());
        form.put("skipped", plan.skipped().stream().map(JsonForm::of).toList());
        form.put("fingerprint", plan.fingerprint());
        return form;
    }

    static Map<String, Object> of(By by) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("actor", by.actor());
        form.put("reason", by.reason().orElse(null));
        return form;
    }

    static Map<String, Object> of(Sample sample) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("key", sample.key().map(Key::text).orElse(null));
        form.put("label", sample.label().orElse(null));
        return form;
    }

    private static Map<String, Object> of(Held hold) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("hold", hold.hold());
        form.put("table", hold.table());
        form.put("count", hold.count());
        form.put("reason", hold.reason());
        form.put("by", hold.by());
        return form;
    }

    private static Map<String, Object> of(Effect effect) {
        Map<String, Object> form = of(effect.link());
        form.put("rule", effect.rule().toString());
        form.put("newParent", effect.newParent().map(Key::text).orElse(null));
        form.put("count", effect.count());
        form.put("samples", effect.samples().stream().map(PlanForm::of).toList());
        return form;
    }

    static Map<String, Object> of(Blocker blocker) {
        Map<String, Object> form = of(blocker.link());
        form.put("reason", blocker.reason());
        form.put("count", blocker.count());
        form.put("children", blocker.children().stream().map(PlanForm::of).toList());
        return form;
    }

    private static Map<String, Object> of(Blocker.Child child) {
        Map<String, Object> form = of(child.record());
        form.put("way", child.way());
        return form;
    }

    private static Map<String, Object> of(Link link) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("table", link.child().name());
        form.put("link", link.where());
        form.put("parent", link.parent().name());
        return form;
    }

    /** The tables of the plan whose counts are about right only. */
    private static List<String> changing(Plan plan) {
        return Stream.concat(
                        Stream.of(plan.table()),
                        plan.effects().stream().map(effect -> effect.link().child()))
                .distinct()
                .map(Table::name)
                .filter(table ->
                        plan.ignoredChanges().contains(table) && plan.counts().containsKey(table))
                .toList();
    }
}
