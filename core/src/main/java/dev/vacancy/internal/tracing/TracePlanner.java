package dev.vacancy.internal.tracing;

import dev.vacancy.By;
import dev.vacancy.Held;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.planning.ConsentDemands;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.restoring.Erasure;
import dev.vacancy.internal.restoring.Masking;
import dev.vacancy.internal.rules.PersonTrace.TextPlace;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.rule.Consent;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;

/** Works out what erasing all that is known of a person would do, and who has to agree. */
final class TracePlanner {
    private final Planner planner;
    private final Rules rules;
    private final TrailTables tables;
    private final Erasure erasure;
    private final Masking masking;

    TracePlanner(Planner planner, TrailTables tables, Erasure erasure, Masking masking) {
        this.planner = planner;
        this.rules = planner.rules();
        this.tables = tables;
        this.erasure = erasure;
        this.masking = masking;
    }

    /** Works out what would be done. */
    PlannedTrace plan(Connection connection, Findings found, By by, Instant at) throws SQLException {
        found.sought().ifPresent(sought -> Masking.requireNotAgain(sought, by));
        Table table = found.table();
        PlannedDeletion deletion = found.planned().plan();
        FoundTrace trace = TraceParts.trace(rules, found, at);
        Scope scope = planner.on(connection).scope(RequestDigest.ofTrace(table, found.key()));
        Set<UUID> open = new LinkedHashSet<>(found.words().open());
        open.addAll(found.lines().open());
        ConsentDemands demands = new ConsentDemands(rules, rules);
        Map<String, Long> concerned = concerned(table, deletion);
        return new PlannedTrace(
                trace,
                by,
                at,
                found.sought(),
                deletion,
                holds(connection, found),
                List.copyOf(open),
                fingerprint(scope, found, trace),
                demanded(deletion, demands, concerned),
                deletion.colleague() || demands.colleague(concerned),
                scope);
    }

    private static Map<String, Long> concerned(Table table, PlannedDeletion deletion) {
        Map<String, Long> concerned = new LinkedHashMap<>(deletion.counts());
        concerned.putIfAbsent(table.name(), 1L);
        return concerned;
    }

    private Consent demanded(PlannedDeletion deletion, ConsentDemands demands, Map<String, Long> concerned) {
        Consent demanded = deletion.demanded();
        for (String name : concerned.keySet()) {
            demanded = demanded.and(demands.withoutWayBack(rules.catalog().table(name)));
        }
        return demanded;
    }

    /** What was agreed to is what is found: how much of it, and which records are changed. */
    private static String fingerprint(Scope scope, Findings found, FoundTrace trace) {
        StringBuilder text =
                new StringBuilder(scope + "\n" + found.planned().plan().fingerprint());
        trace.parts().forEach(part -> text.append('\n').append(part));
        found.texts()
                .forEach((place, rows) ->
                        rows.forEach(row -> text.append('\n').append(place).append(row.key())));
        found.mentions()
                .ifPresent(mentions -> mentions.entries()
                        .forEach(in -> text.append('\n').append(in.entry().reference())));
        return Chain.digest(text.toString());
    }

    /** Those on what the trail tells of, on what has a text, and on records that a text is masked in. */
    private List<TrailRun> holds(Connection connection, Findings found) throws SQLException {
        Map<UUID, TrailRun> holds = new LinkedHashMap<>();
        if (found.recorded().isPresent()) {
            erasure.holds(connection, found.recorded().get(), found.table(), found.key())
                    .forEach(hold -> holds.put(hold.runId(), hold));
        }
        if (found.mentions().isPresent()) {
            masking.holds(connection, found.mentions().get()).forEach(hold -> holds.put(hold.runId(), hold));
        }
        HoldsInForce inForce = tables.holdsInForce(connection);
        for (Map.Entry<TextPlace, List<TextRows.Row>> of : masked(found).entrySet()) {
            for (Held held : planner.on(connection)
                    .held(of.getKey().table(), TextRows.among(of.getKey().table(), of.getValue()), inForce)) {
                for (StoredRun hold : inForce.runs()) {
                    if (hold.facts().runId().toString().equals(held.hold())) {
                        holds.put(hold.facts().runId(), Erasure.told(hold));
                    }
                }
            }
        }
        return List.copyOf(holds.values());
    }

    /** The texts that aren't kept. */
    static Map<TextPlace, List<TextRows.Row>> masked(Findings found) {
        Map<TextPlace, List<TextRows.Row>> masked = new LinkedHashMap<>(found.texts());
        masked.entrySet()
                .removeIf(of -> of.getKey().kept().isPresent() || of.getValue().isEmpty());
        return masked;
    }
}
