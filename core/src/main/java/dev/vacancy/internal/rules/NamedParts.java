package dev.vacancy.internal.rules;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.request.WrittenRules;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Where rules name a column or a table. Each rule tells by its text what it names, so that no part of one is forgotten. */
record NamedParts(WrittenRules book) {
    private static final Pattern MEMBER = Pattern.compile("(?<=[\\[ ])\\w+=(?=\\S)");

    /** A rule, as people find it, with all that it says. */
    private record Said(String name, String text) {}

    List<String> naming(Table table, Optional<Column> column) {
        return all(column.isPresent())
                .filter(rule -> names(rule.text(), table.name(), "(?<![\\w.{])"))
                .filter(rule -> column.map(part -> names(rule.text(), part.name(), "(?<![\\w])"))
                        .orElse(true))
                .map(Said::name)
                .toList();
    }

    private static boolean names(String text, String name, String before) {
        return Pattern.compile(before + Pattern.quote(name) + "(?![\\w])", Pattern.CASE_INSENSITIVE)
                .matcher(text)
                .find();
    }

    private Stream<Said> all(boolean ofColumn) {
        return Stream.of(
                        said("link", book.links(), WrittenRules.UndeclaredLink::origin),
                        said("rule on a link", book.rules(), WrittenRules.RuleOnLink::origin),
                        said("owned parent", book.owned(), WrittenRules.OwnedParent::origin),
                        said("label", book.labels(), WrittenRules.LabelOfTable::origin),
                        said("marker", book.markers(), WrittenRules.MarkerOfTable::origin),
                        said("ignored changes", book.ignoredChanges(), WrittenRules.IgnoredPlace::origin),
                        said("soft deletion", book.softTables(), WrittenRules.SoftTable::origin),
                        said("version", book.versions(), WrittenRules.VersionColumn::origin),
                        said("last change", book.modified(), WrittenRules.ModifiedColumns::origin),
                        // What a person is asked is a matter of the table.
                        said("consent", ofColumn ? List.of() : book.consents(), WrittenRules.ConsentOfTable::origin),
                        said("audit trail", book.trail().stream().toList(), trail -> "the columns that it leaves out"),
                        said("follow-up", book.followUps(), WrittenRules.FollowUpOfTable::origin),
                        said("trace", book.traces(), WrittenRules.TraceOfTable::origin))
                .flatMap(rules -> rules);
    }

    private static <T> Stream<Said> said(String what, Collection<T> rules, Function<T, String> origin) {
        return rules.stream().map(rule -> {
            String from = origin.apply(rule);
            String text = MEMBER.matcher(rule.toString()).replaceAll("").replace(from, "");
            return new Said(what + " (" + from + ")", text);
        });
    }
}
