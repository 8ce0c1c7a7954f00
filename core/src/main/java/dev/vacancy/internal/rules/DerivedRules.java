package dev.vacancy.internal.rules;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.request.RuleDerivation;
import dev.vacancy.internal.request.RuleDerivation.Derived;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RuleProblem;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/**
 * A book in which all that is derived stands written out, where the application says nothing itself.
 *
 * @param book the rules, from which nothing is derived any more
 * @param findings what came up on the way
 */
public record DerivedRules(WrittenRules book, List<Finding> findings) {
    /** Keeps its own copy of the findings. */
    public DerivedRules {
        findings = List.copyOf(findings);
    }

    /**
     * Writes out what is derived. What of it can't be kept is left out and found, since nobody has written it.
     *
     * @param given what the application says
     * @param catalog what the database holds
     * @param clock tells the moment that relative times are told from
     * @return the whole book
     */
    public static DerivedRules of(RuleBook given, DatabaseCatalog catalog, Clock clock) {
        WrittenRules own = WrittenRules.of(given);
        if (own.derivation() == RuleDerivation.NONE) {
            return new DerivedRules(own, List.of());
        }
        Derived derived = own.derivation().derive(catalog);
        List<Finding> findings = new ArrayList<>(derived.findings());
        WrittenRules rules = derived.rules();
        while (true) {
            WrittenRules book = own.settledWith(silent(rules, own, catalog));
            Set<String> origins = rules.origins();
            List<RuleProblem> refused = Rules.read(book, catalog, clock).problems().stream()
                    .filter(problem -> origins.contains(problem.where()))
                    .toList();
            if (refused.isEmpty()) {
                return new DerivedRules(book, findings);
            }
            refused.forEach(problem ->
                    findings.add(new Finding(Finding.Kind.MAPPING, problem.where(), problem.what(), problem.remedy())));
            rules = rules.without(refused.stream().map(RuleProblem::where).collect(Collectors.toSet()));
        }
    }

    private static WrittenRules silent(WrittenRules rules, WrittenRules own, Catalog catalog) {
        Function<String, Optional<?>> place = text -> found(() -> Place.of(text, catalog));
        Function<String, Optional<?>> table = name -> found(() -> catalog.table(name));
        Function<String, Optional<?>> tableOf = text -> found(() -> tableOf(text, catalog));
        return new WrittenRules(
                silent(rules.links(), own.links(), WrittenRules.UndeclaredLink::foreignKey, place),
                silent(rules.rules(), own.rules(), WrittenRules.RuleOnLink::link, place),
                silent(rules.owned(), own.owned(), WrittenRules.OwnedParent::link, place),
                List.of(),
                silent(rules.markers(), own.markers(), WrittenRules.MarkerOfTable::table, table),
                List.of(),
                List.of(),
                silent(rules.softTables(), own.softTables(), WrittenRules.SoftTable::table, table),
                silent(rules.versions(), own.versions(), WrittenRules.VersionColumn::place, tableOf),
                List.of(),
                List.of(),
                Optional.empty(),
                List.of(),
                List.of(),
                Set.of(),
                RuleDerivation.NONE);
    }

    private static Table tableOf(String text, Catalog catalog) {
        return Place.of(text, catalog).table();
    }

    /** What is derived of places that the application doesn't name itself. */
    private static <T> List<T> silent(
            List<T> derived, List<T> own, Function<T, String> name, Function<String, Optional<?>> meaning) {
        List<Optional<?>> named = own.stream()
                .<Optional<?>>map(rule -> meaning.apply(name.apply(rule)))
                .toList();
        return derived.stream()
                .filter(rule -> !named.contains(meaning.apply(name.apply(rule))))
                .toList();
    }

    /** What a name means; a name that means nothing is told of when the rules are read. */
    private static <T> Optional<T> found(Supplier<T> search) {
        try {
            return Optional.of(search.get());
        } catch (InvalidRequestException unknown) {
            return Optional.empty();
        }
    }
}
