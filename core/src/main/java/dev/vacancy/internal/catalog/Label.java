package dev.vacancy.internal.catalog;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What people recognise a table's records by: text with columns in it, such as {@code {name} ({mark})}.
 *
 * @param template the text; each column's name in braces stands for its value
 * @param columns the columns in the text, in their order
 * @since 0.1
 */
public record Label(String template, List<Column> columns) {
    private static final Pattern IN_BRACES = Pattern.compile("\\{([^{}]*)}");

    /** Keeps its own copy of the list. */
    public Label {
        columns = List.copyOf(columns);
    }

    /**
     * Reads a template.
     *
     * @param table the table
     * @param template the text with columns of the table in braces
     * @return the label
     * @throws InvalidRequestException when it names no column, or one that isn't there, or a brace has no partner
     */
    public static Label of(Table table, String template) {
        List<Column> columns = new ArrayList<>();
        Matcher column = IN_BRACES.matcher(template);
        while (column.find()) {
            columns.add(table.column(column.group(1).strip()));
        }
        String rest = IN_BRACES.matcher(template).replaceAll("");
        if (columns.isEmpty() || rest.contains("{") || rest.contains("}")) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "The label '" + template + "' of " + table.name()
                            + (columns.isEmpty() ? " names no column." : " has a brace without its partner."),
                    "Put columns in braces, such as {" + table.columns().get(0).name() + "}.");
        }
        return new Label(template, columns);
    }

    /**
     * Returns the label of a table of which nothing else is said: a text column that is unique, else one that is never null,
     * else the first one.
     *
     * @param table the table
     * @return the label; without columns if the table has no text
     */
    public static Label usual(Table table) {
        List<Column> texts = table.columns().stream()
                .filter(column -> CatalogColumn.of(column).isText())
                .toList();
        return texts.stream()
                .filter(column -> table.uniqueKeys().contains(List.of(column)))
                .findFirst()
                .or(() -> texts.stream().filter(column -> !column.nullable()).findFirst())
                .or(() -> texts.stream().findFirst())
                .map(column -> new Label("{" + column.name() + "}", List.of(column)))
                .orElseGet(() -> new Label("", List.of()));
    }

    /**
     * Returns the label of a record.
     *
     * @param values gives the record's value of a column, or null
     * @return the text with nothing in place of a null, or empty if there is no value at all
     */
    public Optional<String> text(Function<Column, Object> values) {
        if (columns.stream()
                .map(values)
                .allMatch(value -> value == null || value.toString().isBlank())) {
            return Optional.empty();
        }
        StringBuilder text = new StringBuilder();
        Matcher place = IN_BRACES.matcher(template);
        int next = 0;
        while (place.find()) {
            Object value = values.apply(columns.get(next++));
            place.appendReplacement(text, value == null ? "" : Matcher.quoteReplacement(value.toString()));
        }
        return Optional.of(place.appendTail(text).toString());
    }
}
