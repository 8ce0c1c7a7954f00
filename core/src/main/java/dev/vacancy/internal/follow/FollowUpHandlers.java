package dev.vacancy.internal.follow;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Table;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.rules.Rules;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Who handles what follows.
 *
 * @param byName the handlers, by the names of follow-ups
 */
public record FollowUpHandlers(Map<String, FollowUpHandler> byName) {
    /** Nobody. */
    public static final FollowUpHandlers NONE = new FollowUpHandlers(Map.of());

    /** Keeps its own copy of the map. */
    public FollowUpHandlers {
        byName = Collections.unmodifiableMap(new LinkedHashMap<>(byName));
    }

    /**
     * Lists what follows.
     *
     * @param rules the rules
     * @return each follow-up of each table
     */
    public static List<FollowUpRule> rules(Rules rules) {
        return rules.recording().map(Rules.Recording::followUps).orElse(List.of());
    }

    /**
     * Adds a handler.
     *
     * @param name the follow-up that it handles
     * @param handler the handler, instead of the one that there was
     * @param rules the rules that name the follow-up
     * @return all of them
     */
    public FollowUpHandlers and(String name, FollowUpHandler handler, Rules rules) {
        if (rules(rules).stream().noneMatch(rule -> rule.name().equals(name))) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "No follow-up is called '" + name + "': the rules name "
                            + (rules(rules).isEmpty()
                                    ? "none"
                                    : rules(rules).stream()
                                            .map(FollowUpRule::name)
                                            .distinct()
                                            .collect(Collectors.joining(", ")))
                            + ".",
                    "Add it: RuleBook.followUp(…), or 'follow-ups' in vacancy.yaml.");
        }
        Map<String, FollowUpHandler> more = new LinkedHashMap<>(byName);
        more.put(name, handler);
        return new FollowUpHandlers(more);
    }

    /**
     * Tells whether any of them has to be asked before a record comes back.
     *
     * @param rules what follows
     * @param table the record's table
     * @return true if one handles what follows its records
     */
    public boolean concern(Rules rules, Table table) {
        return rules(rules).stream().anyMatch(rule -> rule.table().equals(table) && byName.containsKey(rule.name()));
    }

    /**
     * Tells what keeps a record from coming back.
     *
     * @param rules what follows
     * @param table its table
     * @param key its key, as the trail spells it; empty of a table without one
     * @param values the columns that a follow-up is handed
     * @return why it can't; empty if it can
     */
    public Optional<String> hindrance(
            Rules rules, Table table, Optional<String> key, Function<FollowUpRule, Map<String, Object>> values) {
        return rules(rules).stream()
                .filter(rule -> rule.table().equals(table) && byName.containsKey(rule.name()))
                .flatMap(rule -> byName.get(rule.name()).hinders(table.name(), key, values.apply(rule)).stream())
                .findFirst();
    }
}
