package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.catalog.ColumnType;
import java.util.ArrayList;
import java.util.List;

/** Images as PostgreSQL makes and reads them: JSON objects of texts. */
final class PostgresImages {
    private static final int MEMBERS_TOGETHER = 50;

    private final PostgresDialect dialect;

    PostgresImages(PostgresDialect dialect) {
        this.dialect = dialect;
    }

    /** Put together from its parts, in half the time of a function that makes JSON; in groups, so that nothing nests too deep. */
    Fragment of(List<Column> columns, String alias) {
        List<Fragment> groups = new ArrayList<>(List.of(Fragment.of("'{'")));
        for (int from = 0; from < columns.size(); from += MEMBERS_TOGETHER) {
            List<Fragment> members = new ArrayList<>();
            for (int i = from; i < Math.min(columns.size(), from + MEMBERS_TOGETHER); i++) {
                Column column = columns.get(i);
                String beginning = (i == 0 ? "" : ",") + JsonKeys.text(column.name()) + ":";
                members.add(Fragment.of(
                        "cast(? as text) || coalesce("
                                + dialect.codec(ColumnType.of(column)).json(dialect.name(alias, column)) + ", 'null')",
                        Binding.of(beginning)));
            }
            groups.add(Fragment.join(" || ", members).between("(", ")"));
        }
        groups.add(Fragment.of("'}'"));
        return Fragment.join(" || ", groups).between("(", ")");
    }

    /** Arrays of texts, as many as there are columns, whatever the number of rows. */
    static Fragment rows(List<ColumnType> types, List<List<Object>> values) {
        List<String> arrays = new ArrayList<>();
        List<String> names = new ArrayList<>();
        List<String> read = new ArrayList<>();
        List<Binding> bindings = new ArrayList<>();
        for (int i = 0; i < types.size(); i++) {
            int column = i;
            String[] texts = values.stream()
                    .map(image ->
                            image.get(column) == null ? null : image.get(column).toString())
                    .toArray(String[]::new);
            arrays.add("cast(? as text[])");
            names.add("c" + i);
            read.add("cast(p.c" + i + " as " + types.get(i).castable() + ")");
            bindings.add((statement, index) ->
                    statement.setArray(index, statement.getConnection().createArrayOf("text", texts)));
        }
        return new Fragment(
                "select " + String.join(", ", read) + " from unnest(" + String.join(", ", arrays) + ") as p("
                        + String.join(", ", names) + ")",
                bindings);
    }

    /** Each image is read once, however many columns there are. */
    ImageSource read(List<Column> columns, String content) {
        List<String> members = columns.stream()
                .map(column -> dialect.quote(column.name()) + " text")
                .toList();
        List<String> values = columns.stream()
                .map(column -> "cast(p." + dialect.quote(column.name()) + " as "
                        + ColumnType.of(column).castable() + ")")
                .toList();
        return new ImageSource(
                " cross join lateral json_to_record(cast(" + content + " as json)) as p(" + String.join(", ", members)
                        + ")",
                values);
    }
}
