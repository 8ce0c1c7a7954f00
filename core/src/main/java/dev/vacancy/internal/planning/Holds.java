package dev.vacancy.internal.planning;

import dev.vacancy.Criteria;
import dev.vacancy.Held;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredRun;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.function.ToLongFunction;

/** What must neither go nor be changed, because somebody holds it. */
final class Holds {
    private final Rules rules;
    private final RecordStore store;
    private final Clock clock;
    private final HoldsInForce inForce;

    Holds(Rules rules, RecordStore store, Clock clock, HoldsInForce inForce) {
        this.rules = rules;
        this.store = store;
        this.clock = clock;
        this.inForce = inForce;
    }

    /** Finds the held ones among the records that steps remove or change. */
    List<Held> on(List<Step> steps) {
        return held(hold -> {
            long count = 0;
            for (Step step : steps) {
                boolean bookkeeping = step instanceof Step.Touch || step instanceof Step.Loosen;
                if (!bookkeeping && step.table().name().equals(hold.facts().table())) {
                    count += count(hold, step.table(), step.condition());
                }
            }
            return count;
        });
    }

    /** Finds the held ones among some records. */
    List<Held> on(Table table, Condition condition) {
        return held(hold -> table.name().equals(hold.facts().table()) ? count(hold, table, condition) : 0);
    }

    private List<Held> held(ToLongFunction<StoredRun> counting) {
        List<Held> held = new ArrayList<>();
        for (StoredRun hold : inForce.runs()) {
            long count = counting.applyAsLong(hold);
            if (count > 0) {
                held.add(new Held(
                        hold.facts().runId().toString(),
                        hold.facts().table(),
                        count,
                        hold.facts().reason().orElse(""),
                        hold.facts().actor()));
            }
        }
        return held;
    }

    private long count(StoredRun hold, Table table, Condition among) {
        if (hold.facts().kind() != RunKind.STANDING_HOLD) {
            return store.countHeld(rules.recording().orElseThrow(), hold.facts().runId(), table, among);
        }
        Criteria criteria = Criteria.parse(hold.facts().selection());
        return store.count(
                table, new Condition.AllOf(List.of(among, Resolution.of(criteria, table, rules.catalog(), clock))));
    }
}
