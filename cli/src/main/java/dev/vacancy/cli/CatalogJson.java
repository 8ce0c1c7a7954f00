package dev.vacancy.cli;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.rule.LinkRule;
import dev.vacancy.rule.Rules;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Writes the catalog for programs. {@code docs/output.schema.json} describes the result. */
final class CatalogJson {
    private CatalogJson() {}

    static String of(Rules rules) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put(
                "tables",
                rules.catalog().tables().stream()
                        .map(table -> table(table, rules.active(table)))
                        .toList());
        json.put(
                "links",
                rules.catalog().links().stream()
                        .map(link -> link(link, rules.of(link)))
                        .toList());
        return JsonValues.write(json);
    }

    private static Map<String, Object> table(Table table, Optional<Rules.Active> active) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("table", table.name());
        json.put("primaryKey", names(table.primaryKey()));
        json.put(
                "uniqueKeys",
                table.uniqueKeys().stream().map(CatalogJson::names).toList());
        json.put("active", active.map(which -> which.criteria().toString()).orElse(null));
        json.put("columns", table.columns().stream().map(CatalogJson::column).toList());
        return json;
    }

    private static Map<String, Object> column(Column column) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("column", column.name());
        json.put("type", column.type().name());
        json.put("nullable", column.nullable());
        return json;
    }

    private static Map<String, Object> link(Link link, List<LinkRule> rules) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("link", link.where());
        json.put("child", link.child().name());
        json.put("childColumns", names(link.childColumns()));
        json.put("parent", link.parent().name());
        json.put("parentColumns", names(link.parentColumns()));
        json.put("declared", link.declared());
        json.put("indexed", link.indexed());
        json.put("clauses", rules.stream().map(CatalogJson::clause).toList());
        return json;
    }

    private static Map<String, Object> clause(LinkRule rule) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("rule", rule.rule().toString());
        json.put("when", rule.criteria().map(Criteria::toString).orElse(null));
        json.put("reason", rule.reason());
        json.put("newParent", rule.newParent().map(Key::text).orElse(null));
        return json;
    }

    private static List<String> names(List<Column> columns) {
        return columns.stream().map(Column::name).toList();
    }
}
