package dev.vacancy.internal.planning;

import dev.vacancy.Effect;
import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.rules.Rules;
import java.util.List;
import java.util.Locale;

/** Says before a deletion what will follow it outside of the database. */
final class ExpectedFollowUps {
    private final List<FollowUpRule> followUps;

    ExpectedFollowUps(Rules rules) {
        this.followUps = rules.recording().map(Rules.Recording::followUps).orElse(List.of());
    }

    /** A sentence for each follow-up of each table that something happens to. */
    List<String> notes(Consequences consequences) {
        return followUps.stream()
                .filter(rule -> told(rule, consequences) > 0)
                .map(rule -> String.format(
                        Locale.ROOT,
                        "The follow-up '%s' is told of %,d %s of %s.",
                        rule.name(),
                        told(rule, consequences),
                        told(rule, consequences) == 1 ? "record" : "records",
                        rule.table().name()))
                .toList();
    }

    private static long told(FollowUpRule rule, Consequences consequences) {
        return consequences.counts().getOrDefault(rule.table().name(), 0L)
                + consequences.effects().stream()
                        .filter(effect -> effect.isChange()
                                && effect.link().child().equals(rule.table())
                                && handsOver(rule, effect))
                        .mapToLong(Effect::count)
                        .sum();
    }

    private static boolean handsOver(FollowUpRule rule, Effect effect) {
        return rule.columns().isEmpty() || effect.link().childColumns().stream().anyMatch(rule.columns()::contains);
    }
}
