package dev.vacancy.internal.rules;

import dev.vacancy.Criteria;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** A catalog and its rules for programs: maps, lists, text and truth values, which any mapper writes as JSON (RFC 8259) the same way. */
public final class RulesForm {
    private RulesForm() {}

    /**
     * Returns tables by schema and name, and links by child table.
     *
     * @param rules the rules, with their catalog
     * @return the members {@code tables} and {@code links}
     */
    public static Map<String, Object> of(Rules rules) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put(
                "tables",
                rules.catalog().tables().stream().map(table -> of(table, rules)).toList());
        form.put(
                "links",
                rules.catalog().links().stream()
                        .map(link -> of(link, rules.of(link)))
                        .toList());
        return form;
    }

    private static Map<String, Object> of(Table table, Rules rules) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("table", table.name());
        form.put("primaryKey", names(table.primaryKey()));
        form.put("uniqueKeys", table.uniqueKeys().stream().map(RulesForm::names).toList());
        form.put("active", rules.active(table).map(Criteria::toString).orElse(null));
        form.put("columns", table.columns().stream().map(RulesForm::of).toList());
        return form;
    }

    private static Map<String, Object> of(Column column) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("column", column.name());
        form.put("type", ColumnType.of(column).name());
        form.put("nullable", column.nullable());
        return form;
    }

    private static Map<String, Object> of(Link link, List<LinkRule> clauses) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("link", link.where());
        form.put("child", link.child().name());
        form.put("childColumns", names(link.childColumns()));
        form.put("parent", link.parent().name());
        form.put("parentColumns", names(link.parentColumns()));
        form.put("declared", link.declared());
        form.put("indexed", link.indexed());
        form.put("clauses", clauses.stream().map(RulesForm::of).toList());
        return form;
    }

    private static Map<String, Object> of(LinkRule clause) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("rule", clause.rule().toString());
        form.put("where", clause.criteria().map(Criteria::toString).orElse(null));
        form.put("reason", clause.reason());
        form.put("newParent", clause.newParent().map(Key::text).orElse(null));
        form.put("lastOnly", clause.lastOnly());
        return form;
    }

    private static List<String> names(List<Column> columns) {
        return columns.stream().map(Column::name).toList();
    }
}
