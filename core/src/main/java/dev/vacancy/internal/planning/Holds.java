package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.plan.Held;
import dev.vacancy.rule.Rules;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** What must not go, because somebody holds it. */
final class Holds {
    private final Rules rules;
    private final Lookup lookup;
    private final Clock clock;
    private final List<StoredRun> all;

    Holds(Rules rules, Lookup lookup, Clock clock, List<StoredRun> all) {
        this.rules = rules;
        this.lookup = lookup;
        this.clock = clock;
        this.all = all;
    }

    /** Finds the held ones among the records that go. */
    List<Held> on(Gathering gathering, Set<String> tables) {
        List<Held> held = new ArrayList<>();
        for (StoredRun hold : all) {
            RunFacts facts = hold.facts();
            if (tables.contains(facts.table())) {
                Table table = rules.catalog().table(facts.table());
                Condition wanted = Resolution.of(Criteria.parse(facts.selection()), table, rules.catalog(), clock);
                Condition going = gathering.condition(table).orElseThrow();
                long count = lookup.count(table, new Condition.AllOf(List.of(going, wanted)));
                if (count > 0) {
                    held.add(new Held(
                            facts.runId().toString(),
                            facts.table(),
                            count,
                            facts.reason().orElse(""),
                            facts.actor()));
                }
            }
        }
        return held;
    }
}
