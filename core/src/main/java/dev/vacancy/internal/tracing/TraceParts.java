package dev.vacancy.internal.tracing;

import dev.vacancy.Blocker;
import dev.vacancy.Effect;
import dev.vacancy.Sample;
import dev.vacancy.catalog.Link;
import dev.vacancy.history.Mention;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.restoring.Mentions;
import dev.vacancy.internal.restoring.RecordTraces;
import dev.vacancy.internal.rules.LinkRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.rule.Rule;
import dev.vacancy.trace.Relation;
import dev.vacancy.trace.TracePart;
import dev.vacancy.trace.Treatment;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Says in the words of an application what was found of a person. */
final class TraceParts {
    private static final int SAMPLES = 3;

    private final Rules erasing;
    private final Findings found;
    private final List<TracePart> parts = new ArrayList<>();

    private TraceParts(Rules rules, Findings found) {
        this.erasing = rules.erasing(found.table());
        this.found = found;
    }

    static FoundTrace trace(Rules rules, Findings found, Instant at) {
        TraceParts parts = new TraceParts(rules, found);
        parts.addRecords();
        return parts.with(at, found.record().isPresent());
    }

    /** What is left once it was erased: whether the record is there was seen anew, and what refers to it. */
    static FoundTrace afterwards(
            Rules rules, Findings found, Optional<PlannedDeletion> kept, Map<Link, Long> referring, Instant at) {
        TraceParts parts = new TraceParts(rules, found);
        kept.ifPresent(parts::addKept);
        referring.forEach(parts::addReferring);
        return parts.with(at, kept.isPresent());
    }

    private FoundTrace with(Instant at, boolean there) {
        addTexts();
        addTrail();
        addBulkRuns();
        found.waiting()
                .forEach((name, count) -> parts.add(new TracePart(
                        Relation.FOLLOW_UP,
                        name.get(0),
                        name.get(1),
                        Optional.empty(),
                        count,
                        Treatment.KEEP,
                        Optional.of("a message goes when it has been handled"),
                        List.of())));
        return new FoundTrace(
                found.table().name(),
                found.key(),
                found.given(),
                there ? found.record().flatMap(record -> Sample.of(record).label()) : Optional.empty(),
                there,
                at,
                parts,
                found.warnings());
    }

    private void addRecords() {
        found.record().ifPresent(record -> {
            addRecord(
                    found.rules().kept().isPresent() ? Treatment.MASK : Treatment.DELETE,
                    List.of(Sample.of(record).toString()));
            addLinks(found.planned().plan());
        });
    }

    private void addRecord(Treatment treatment, List<String> samples) {
        String table = found.table().name();
        parts.add(new TracePart(
                Relation.RECORD,
                table,
                table,
                Optional.empty(),
                1,
                treatment,
                found.rules().kept(),
                samples));
    }

    private void addKept(PlannedDeletion now) {
        addRecord(Treatment.KEEP, List.of());
        addLinks(now);
    }

    private void addLinks(PlannedDeletion plan) {
        for (Blocker blocker : plan.blockers()) {
            add(
                    Relation.MENTION,
                    blocker.link(),
                    blocker.count(),
                    Treatment.BLOCK,
                    Optional.of(blocker.reason()),
                    blocker.children().stream()
                            .limit(SAMPLES)
                            .map(child -> child.record().toString())
                            .toList());
        }
        for (Effect effect : plan.effects()) {
            add(
                    effect.rule() == Rule.CASCADE ? Relation.BELONGING : Relation.MENTION,
                    effect.link(),
                    effect.count(),
                    treatment(effect.rule()),
                    effect.rule() == Rule.KEEP ? Optional.of(whyKept(effect.link())) : Optional.empty(),
                    effect.samples().stream().map(Sample::toString).toList());
        }
    }

    private void add(
            Relation relation,
            Link link,
            long count,
            Treatment treatment,
            Optional<String> reason,
            List<String> samples) {
        parts.add(new TracePart(
                relation,
                link.child().name(),
                link.where(),
                Optional.of(link.parent().name()),
                count,
                treatment,
                reason,
                samples));
    }

    private static Treatment treatment(Rule rule) {
        return switch (rule) {
            case CASCADE, PART_OF -> Treatment.DELETE;
            case DETACH -> Treatment.DETACH;
            case REASSIGN, RESET -> Treatment.REASSIGN;
            case KEEP -> Treatment.KEEP;
            case BLOCK -> Treatment.BLOCK;
        };
    }

    private String whyKept(Link link) {
        return erasing.of(link).stream()
                .filter(clause -> clause.rule() == Rule.KEEP)
                .map(LinkRule::reason)
                .distinct()
                .collect(Collectors.joining("; "));
    }

    private void addReferring(Link link, long count) {
        boolean kept = erasing.of(link).stream().anyMatch(clause -> clause.rule() == Rule.KEEP);
        add(
                Relation.MENTION,
                link,
                count,
                kept ? Treatment.KEEP : Treatment.DELETE,
                kept ? Optional.of(whyKept(link)) : Optional.empty(),
                List.of());
    }

    private void addTexts() {
        found.texts().forEach((place, rows) -> {
            if (!rows.isEmpty()) {
                parts.add(new TracePart(
                        Relation.TEXT,
                        place.table().name(),
                        place.toString(),
                        Optional.empty(),
                        rows.size(),
                        place.kept().isPresent() ? Treatment.KEEP : Treatment.MASK,
                        place.kept(),
                        samples(rows.stream().map(row -> TrailKey.of(row.key())))));
            }
        });
    }

    private void addTrail() {
        found.recorded()
                .map(RecordTraces::counts)
                .ifPresent(counts -> counts.forEach(
                        (table, count) -> addOfTrail(Relation.TRAIL, table, count, Treatment.ERASE, List.of())));
        Map<String, List<String>> mentioning = new TreeMap<>();
        found.mentions()
                .map(Mentions::entries)
                .orElse(List.of())
                .forEach(entry -> mentioning
                        .computeIfAbsent(entry.entry().table(), missing -> new ArrayList<>())
                        .add(entry.entry().keyText()));
        mentioning.forEach((table, keys) ->
                addOfTrail(Relation.TRAIL, table, keys.size(), Treatment.MASK, samples(keys.stream())));
        Map<String, List<String>> words = new TreeMap<>();
        found.mentions()
                .map(Mentions::runs)
                .orElse(List.of())
                .forEach(run -> words.computeIfAbsent(run.run().facts().table(), missing -> new ArrayList<>())
                        .addAll(run.words()));
        addWords(found.words().mentions(), words);
        words.forEach((table, places) ->
                addOfTrail(Relation.WORDS, table, places.size(), Treatment.MASK, samples(places.stream())));
    }

    private static void addWords(Collection<Mention> mentions, Map<String, List<String>> words) {
        mentions.forEach(mention -> words.computeIfAbsent(mention.table(), missing -> new ArrayList<>())
                .addAll(mention.places()));
    }

    private void addOfTrail(Relation relation, String table, long count, Treatment treatment, List<String> samples) {
        parts.add(new TracePart(relation, table, table, Optional.empty(), count, treatment, Optional.empty(), samples));
    }

    private void addBulkRuns() {
        Map<String, List<String>> lines = new TreeMap<>();
        found.lines()
                .mentions()
                .forEach(line -> lines.computeIfAbsent(line.table(), missing -> new ArrayList<>())
                        .add(line.key().orElse("")));
        lines.forEach((table, keys) ->
                addOfTrail(Relation.BULK_RUN, table, keys.size(), Treatment.ERASE, samples(keys.stream())));
    }

    private static List<String> samples(Stream<String> all) {
        return all.distinct().limit(SAMPLES).map(Sample::plain).toList();
    }
}
