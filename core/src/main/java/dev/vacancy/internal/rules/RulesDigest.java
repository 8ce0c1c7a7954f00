package dev.vacancy.internal.rules;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.rule.ServerRule;
import dev.vacancy.rule.Trail;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Collection;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Function;

/** Digests rules. Each part stands behind its length, and what has no order of its own is brought into one. */
final class RulesDigest {
    private final MessageDigest digest;

    private RulesDigest() {
        try {
            digest = MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException missing) {
            throw new IllegalStateException("Every Java platform has SHA-256", missing);
        }
    }

    static String of(RuleReader reader, Map<Link, List<LinkRule>> byLink, WrittenRules book) {
        return new RulesDigest()
                .add(
                        "links",
                        byLink,
                        (link, clauses) -> link(link)
                                + clauses.stream().map(RulesDigest::clause).toList())
                .add("active", reader.active(), (table, criteria) -> table(table) + criteria)
                .add("markers", reader.markers(), (table, marker) -> table(table) + marker)
                .add("soft", reader.soft(), (table, soft) -> table(table) + soft)
                .add("versions", reader.versions(), (table, column) -> table(table) + column.storedName())
                .add("modified", reader.modified(), (table, columns) -> table(table) + modified(columns))
                .add("drifting", reader.ignored().tables(), RulesDigest::table)
                .add("drifting columns", reader.ignored().columns(), (table, columns) -> table(table) + names(columns))
                .add("traces", reader.traces(), (table, trace) -> table(table) + trace(trace))
                .add("servers", book.serverRules(), ServerRule::toString)
                .add("schemas", Set.copyOf(book.schemas()), schema -> schema)
                .add("trail", book.trail().map(Set::of).orElse(Set.of()), RulesDigest::trail)
                .add(
                        "withheld",
                        book.trail().isPresent() ? reader.withheld() : Map.of(),
                        (table, columns) -> table(table) + names(columns))
                .hex();
    }

    private static String table(Table table) {
        return quoted(table.schema()) + quoted(table.storedName());
    }

    private static String link(Link link) {
        return table(link.child())
                + stored(link.childColumns())
                + table(link.parent())
                + stored(link.parentColumns())
                + link.declared()
                + (CatalogLink.of(link).enforced() ? "" : "not enforced")
                + CatalogLink.of(link).onDelete();
    }

    private static String clause(LinkRule clause) {
        return quoted(clause.rule().toString())
                + quoted(clause.criteria().map(Object::toString).orElse(""))
                + clause.newParent().map(key -> RecordKey.of(key).storable()).orElse(List.of())
                + (clause.lastOnly() ? "last only" : "")
                + (clause.takesElement() ? "element" : "");
    }

    private static String trace(PersonTrace trace) {
        List<String> clauses = trace.clauses().entrySet().stream()
                .map(of -> link(of.getKey())
                        + of.getValue().stream().map(RulesDigest::clause).toList())
                .sorted()
                .toList();
        List<String> places = trace.places().stream()
                .map(place -> table(place.table())
                        + quoted(place.column().storedName())
                        + place.kept().isPresent())
                .sorted()
                .toList();
        return stored(trace.knownBy()).toString()
                + places
                + clauses
                + trace.kept().isPresent()
                + stored(trace.masked());
    }

    private static String modified(Rules.Modified columns) {
        return quoted(columns.by().map(Column::storedName).orElse(""))
                + quoted(columns.at().map(Column::storedName).orElse(""));
    }

    /** What the trail leaves out is digested column by column. */
    private static String trail(Trail trail) {
        return quoted(trail.schema().orElse("")) + quoted(trail.runs()) + quoted(trail.entries());
    }

    private static List<String> stored(List<Column> columns) {
        return columns.stream().map(column -> quoted(column.storedName())).toList();
    }

    private static List<String> names(Set<Column> columns) {
        return columns.stream()
                .map(column -> quoted(column.storedName()))
                .sorted()
                .toList();
    }

    /** No text looks like two. */
    private static String quoted(String text) {
        return text.length() + ":" + text;
    }

    private <K, V> RulesDigest add(String what, Map<K, V> parts, BiFunction<K, V, String> text) {
        return add(what, parts.entrySet(), part -> text.apply(part.getKey(), part.getValue()));
    }

    private <T> RulesDigest add(String what, Collection<T> parts, Function<T, String> text) {
        add(what);
        List<String> texts = parts.stream().map(text).sorted().toList();
        add(String.valueOf(texts.size()));
        texts.forEach(this::add);
        return this;
    }

    private void add(String text) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        digest.update(ByteBuffer.allocate(Integer.BYTES).putInt(bytes.length).flip());
        digest.update(bytes);
    }

    private String hex() {
        return HexFormat.of().formatHex(digest.digest());
    }
}
