package dev.vacancy.cli.selecting;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.internal.catalog.KeyParts;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.stream.Collectors;

/** Reads a composite key as it is typed: {@code column=value,column=value}, a comma in a value as {@code \,}. */
public final class KeyText {
    private KeyText() {}

    public static Map<String, String> composite(Table table, String text) {
        Map<String, String> values = new LinkedHashMap<>();
        for (String part : KeyParts.split(text)) {
            int equals = part.indexOf('=');
            if (equals < 1 || values.put(part.substring(0, equals), part.substring(equals + 1)) != null) {
                String shape = table.identity().stream()
                        .map(Column::name)
                        .map(name -> name + "=…")
                        .collect(Collectors.joining(","));
                throw ToolException.wrongUsage(
                        "The key of " + table.name() + " has "
                                + table.identity().size() + " columns, but '" + part + "' doesn't say which it is for.",
                        "Give each column once: --key " + shape + " (a comma in a value is written \\,).");
            }
        }
        return values;
    }
}
