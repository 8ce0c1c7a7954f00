package dev.vacancy;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * A plan for programs: plain records of text, numbers, lists and maps, which any mapper writes as JSON (RFC 8259) the same
 * way. Keys are text as {@link Key#text()} gives it. The command-line tool prints this.
 *
 * @param table the table whose records were selected
 * @param where the criteria that picked them; null if they were named by key
 * @param by who wants the deletion
 * @param allRecords whether all records of the table were asked for by that name
 * @param selected how many selected records would go
 * @param ofTable how many records the table has; null where a single one was named
 * @param records the selected records that would go, of many the first ones, each column's value by its name, as {@link RecordContent#plainValues()}
 *     gives it
 * @param notFound the selected keys that no record has
 * @param alreadyDeleted the selected keys whose records are soft-deleted already
 * @param counts how many records would be deleted of each table
 * @param marked the tables among these whose records would be marked and stay
 * @param drifting the tables among these that never stand still, so that their counts are about right only
 * @param inactive how many of the records that would go for good were soft-deleted before, by table
 * @param effects what would become of the children
 * @param touched how many parents that stay would have who changed them last and when written on them, by table
 * @param blockers who forbids the deletion
 * @param holds what must not go until a hold is lifted
 * @param warnings what a person should know before agreeing
 * @param recorded whether the audit trail would keep what the records are now
 * @param consent what a person has to give: {@code none}, {@code yes}, {@code number} or {@code label}
 * @param colleague whether somebody else has to agree as well
 * @param skipped the selected records that are left out because children forbid their deletion
 * @param fingerprint the digest of what the plan would do
 * @since 0.1
 */
public record PlanView(
        String table,
        String where,
        Requester by,
        boolean allRecords,
        long selected,
        Long ofTable,
        List<Map<String, Object>> records,
        List<String> notFound,
        List<String> alreadyDeleted,
        Map<String, Long> counts,
        List<String> marked,
        List<String> drifting,
        Map<String, Long> inactive,
        List<EffectView> effects,
        Map<String, Long> touched,
        List<BlockerView> blockers,
        List<Held> holds,
        List<String> warnings,
        boolean recorded,
        String consent,
        boolean colleague,
        List<SkippedView> skipped,
        String fingerprint) {

    /**
     * Who wants a deletion.
     *
     * @param actor the name
     * @param reason why, or null
     */
    public record Requester(String actor, String reason) {
        /**
         * Views who wants a deletion.
         *
         * @param by who
         * @return the view
         */
        public static Requester of(By by) {
            return new Requester(by.actor(), by.reason().orElse(null));
        }
    }

    /**
     * One record that is shown.
     *
     * @param key its key, or null in a table without one
     * @param label the text people know it by, or null
     */
    public record SampleView(String key, String label) {
        private static SampleView of(Sample sample) {
            return new SampleView(
                    sample.key().map(Key::text).orElse(null), sample.label().orElse(null));
        }
    }

    /**
     * What becomes of the children on one link.
     *
     * @param table the children's table
     * @param link where the foreign key stands, such as {@code inspection.hive_id}
     * @param parent the parent's table
     * @param rule what happens to them, such as {@code cascade}
     * @param newParent the key of the record that takes them over, or null
     * @param count how many there are
     * @param samples the first few of them
     */
    public record EffectView(
            String table,
            String link,
            String parent,
            String rule,
            String newParent,
            long count,
            List<SampleView> samples) {
        private static EffectView of(Effect effect) {
            return new EffectView(
                    effect.link().child().name(),
                    effect.link().where(),
                    effect.link().parent().name(),
                    effect.rule().toString(),
                    effect.newParent().map(Key::text).orElse(null),
                    effect.count(),
                    effect.samples().stream().map(SampleView::of).toList());
        }
    }

    /**
     * Children on one link that forbid the deletion.
     *
     * @param table the children's table
     * @param link where the foreign key stands
     * @param parent the parent's table
     * @param reason why they forbid it
     * @param count how many there are
     * @param children the first few of them
     */
    public record BlockerView(
            String table, String link, String parent, String reason, long count, List<ChildView> children) {
        private static BlockerView of(Blocker blocker) {
            return new BlockerView(
                    blocker.link().child().name(),
                    blocker.link().where(),
                    blocker.link().parent().name(),
                    blocker.reason(),
                    blocker.count(),
                    blocker.children().stream().map(ChildView::of).toList());
        }
    }

    /**
     * One child that forbids the deletion.
     *
     * @param key its key, or null in a table without one
     * @param label the text people know it by, or null
     * @param way the records from the selected one to the child's parent, each with its table's name
     */
    public record ChildView(String key, String label, List<String> way) {
        private static ChildView of(Blocker.Child child) {
            SampleView sample = SampleView.of(child.record());
            return new ChildView(sample.key, sample.label, child.way());
        }
    }

    /**
     * A selected record that is left out.
     *
     * @param key its key
     * @param label the text people know it by, or null
     * @param blockers who forbids its deletion
     */
    public record SkippedView(String key, String label, List<BlockerView> blockers) {
        /**
         * Views a record that is left out.
         *
         * @param skipped the record with its blockers
         * @return the view
         */
        public static SkippedView of(Skipped skipped) {
            SampleView sample = SampleView.of(Sample.of(skipped.root()));
            return new SkippedView(
                    sample.key,
                    sample.label,
                    skipped.blockers().stream().map(BlockerView::of).toList());
        }
    }

    static PlanView of(Plan plan) {
        return new PlanView(
                plan.table().name(),
                plan.selection().criteria().map(Criteria::toString).orElse(null),
                Requester.of(plan.by()),
                plan.selection().isOfAllRecords(),
                plan.selected(),
                plan.ofTable().isPresent() ? plan.ofTable().getAsLong() : null,
                plan.roots().stream().map(RecordContent::plainValues).toList(),
                plan.notFound().stream().map(Key::text).toList(),
                plan.alreadyDeleted().stream().map(Key::text).toList(),
                plan.counts(),
                List.copyOf(plan.marked()),
                drifting(plan),
                plan.inactive(),
                plan.effects().stream().map(EffectView::of).toList(),
                plan.touched(),
                plan.blockers().stream().map(BlockerView::of).toList(),
                plan.holds(),
                plan.warnings(),
                plan.recorded(),
                plan.consent().toString(),
                plan.colleague(),
                plan.skipped().stream().map(SkippedView::of).toList(),
                plan.fingerprint());
    }

    private static List<String> drifting(Plan plan) {
        return Stream.concat(
                        Stream.of(plan.table()),
                        plan.effects().stream().map(effect -> effect.link().child()))
                .distinct()
                .filter(table -> plan.ignoredChanges().contains(table.name())
                        && plan.counts().containsKey(table.name()))
                .map(Table::name)
                .toList();
    }
}
