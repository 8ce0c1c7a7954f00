package dev.vacancy.internal.rules;

import dev.vacancy.Criteria;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import java.util.List;

/**
 * A catalog and its rules for programs: plain records of text, which any mapper writes as JSON (RFC 8259) the same way. The
 * command-line tool prints this.
 *
 * @param tables the tables by schema and name
 * @param links the links by child table
 * @since 0.1
 */
public record RulesView(List<TableView> tables, List<LinkView> links) {
    /**
     * A table.
     *
     * @param table its name
     * @param primaryKey the columns of its primary key, empty without one
     * @param uniqueKeys the columns of each other unique key
     * @param active what active records have in common; null if the table marks no soft-deleted ones
     * @param columns its columns
     */
    public record TableView(
            String table,
            List<String> primaryKey,
            List<List<String>> uniqueKeys,
            String active,
            List<ColumnView> columns) {}

    /**
     * A column.
     *
     * @param column its name
     * @param type the database's own name of its type
     * @param nullable whether it may be null
     */
    public record ColumnView(String column, String type, boolean nullable) {
        private static ColumnView of(Column column) {
            return new ColumnView(column.name(), column.type().name(), column.nullable());
        }
    }

    /**
     * A link.
     *
     * @param link where the foreign key stands
     * @param child the child's table
     * @param childColumns the foreign key's columns
     * @param parent the parent's table
     * @param parentColumns the columns that it points to
     * @param declared whether the database enforces it
     * @param indexed whether an index finds the children of a parent
     * @param clauses what becomes of the children; of each child the first that applies decides
     */
    public record LinkView(
            String link,
            String child,
            List<String> childColumns,
            String parent,
            List<String> parentColumns,
            boolean declared,
            boolean indexed,
            List<ClauseView> clauses) {
        private static LinkView of(Link link, List<LinkRule> clauses) {
            return new LinkView(
                    link.where(),
                    link.child().name(),
                    names(link.childColumns()),
                    link.parent().name(),
                    names(link.parentColumns()),
                    link.declared(),
                    link.indexed(),
                    clauses.stream().map(ClauseView::of).toList());
        }
    }

    /**
     * A clause of a link's rule.
     *
     * @param rule what happens, such as {@code cascade}
     * @param when to which children; null for all the rest
     * @param reason why
     * @param newParent the key of the record that takes them over, or null
     */
    public record ClauseView(String rule, String when, String reason, String newParent) {
        private static ClauseView of(LinkRule clause) {
            return new ClauseView(
                    clause.rule().toString(),
                    clause.criteria().map(Criteria::toString).orElse(null),
                    clause.reason(),
                    clause.newParent().map(Key::text).orElse(null));
        }
    }

    static RulesView of(Rules rules) {
        return new RulesView(
                rules.catalog().tables().stream()
                        .map(table -> table(table, rules))
                        .toList(),
                rules.catalog().links().stream()
                        .map(link -> LinkView.of(link, rules.of(link)))
                        .toList());
    }

    private static TableView table(Table table, Rules rules) {
        return new TableView(
                table.name(),
                names(table.primaryKey()),
                table.uniqueKeys().stream().map(RulesView::names).toList(),
                rules.active(table).map(Criteria::toString).orElse(null),
                table.columns().stream().map(ColumnView::of).toList());
    }

    private static List<String> names(List<Column> columns) {
        return columns.stream().map(Column::name).toList();
    }
}
