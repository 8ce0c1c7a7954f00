package dev.vacancy.internal.dialect;

import dev.vacancy.internal.dialect.SqlWords.Word;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.Dependent.Kind;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** What SQLite tells of one table or column, by the text of each definition. */
final class SqliteObjects {
    private static final String REBUILT = "vacancy_rebuilt";

    private final Dialect dialect;
    private final CatalogQuery ask;
    private final Retiree retiree;
    private final String table;
    private final String sql;
    private final CreateTable made;

    SqliteObjects(Dialect dialect, CatalogQuery ask, Retiree retiree) throws SQLException {
        this.dialect = dialect;
        this.ask = ask;
        this.retiree = retiree;
        this.table = dialect.quote(retiree.table());
        this.sql = textOf(retiree.table());
        this.made = CreateTable.of(sql);
    }

    private String textOf(String name) throws SQLException {
        return ask.texts("select sql from sqlite_schema where type = 'table' and name = ? collate nocase", name)
                .get(0);
    }

    Shape shape() throws SQLException {
        List<SchemaObject> objects = new ArrayList<>(views());
        if (SqlWords.of(sql).get(1).is("VIRTUAL")) {
            objects.add(SchemaObject.forbidding(
                    Kind.SETTING, retiree.table(), sql, "A virtual table has no records of its own; drop it by hand."));
        }
        objects.addAll(triggersElsewhere());
        objects.addAll(linksFromElsewhere());
        List<String> unknown = List.of("SQLite tells views and triggers by their text only.");
        return retiree.column().isPresent() ? ofColumn(objects, unknown) : ofTable(objects, unknown);
    }

    private boolean isNamedIn(String text) {
        return SqlWords.mention(text, retiree.table())
                && retiree.column()
                        .map(column -> SqlWords.mention(text, column))
                        .orElse(true);
    }

    private List<SchemaObject> views() throws SQLException {
        Map<String, SchemaObject> views = new LinkedHashMap<>();
        Set<String> reached = new LinkedHashSet<>();
        List<List<String>> all = ask.rows("select name, sql from sqlite_schema where type = 'view' order by name");
        boolean more = true;
        while (more) {
            more = false;
            for (List<String> view : all) {
                boolean star = SqlWords.mention(view.get(1), retiree.table())
                        && view.get(1).contains("*");
                boolean reads = star
                        || isNamedIn(view.get(1))
                        || reached.stream().anyMatch(other -> SqlWords.mention(view.get(1), other));
                if (reads && reached.add(view.get(0))) {
                    List<String> again = new ArrayList<>(List.of(view.get(1)));
                    again.addAll(ask.texts(
                            "select sql from sqlite_schema where type = 'trigger' and tbl_name = ?", view.get(0)));
                    views.put(
                            view.get(0),
                            SchemaObject.inTheWay(
                                    Kind.VIEW,
                                    view.get(0),
                                    view.get(1),
                                    List.of("drop view " + dialect.quote(view.get(0))),
                                    again));
                    more = true;
                }
            }
        }
        List<SchemaObject> lastFirst = new ArrayList<>();
        views.values().forEach(view -> lastFirst.add(0, view));
        return lastFirst;
    }

    private List<SchemaObject> triggersElsewhere() throws SQLException {
        List<SchemaObject> triggers = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select t.name, t.sql from sqlite_schema t where t.type = 'trigger' and t.tbl_name <> ? collate nocase"
                        + " and not exists (select 1 from sqlite_schema v where v.type = 'view' and v.name = t.tbl_name) order by t.name",
                retiree.table())) {
            if (isNamedIn(row.get(1))) {
                triggers.add(SchemaObject.inTheWay(
                        Kind.TRIGGER,
                        row.get(0),
                        row.get(1),
                        List.of("drop trigger " + dialect.quote(row.get(0))),
                        List.of(row.get(1))));
            }
        }
        return triggers;
    }

    private List<SchemaObject> linksFromElsewhere() throws SQLException {
        List<SchemaObject> links = new ArrayList<>();
        Map<String, List<String>> children = new LinkedHashMap<>();
        for (List<String> row : ask.rows(
                "select m.name, f.id, group_concat(f.\"from\", ','), group_concat(coalesce(f.\"to\", ''), ',') from sqlite_schema m, pragma_foreign_key_list(m.name) f"
                        + " where m.type = 'table' and f.\"table\" = ? collate nocase and m.name <> ? collate nocase group by m.name, f.id order by 1, 2",
                retiree.table(),
                retiree.table())) {
            boolean meant = retiree.column()
                    .map(column -> List.of(row.get(3).toLowerCase(Locale.ROOT).split(","))
                            .contains(column.toLowerCase(Locale.ROOT)))
                    .orElse(true);
            if (meant) {
                children.computeIfAbsent(row.get(0), child -> new ArrayList<>()).add(row.get(2));
            }
        }
        for (Map.Entry<String, List<String>> child : children.entrySet()) {
            String text = textOf(child.getKey());
            String without = CreateTable.of(text)
                    .withoutLinksTo(dialect.quote(child.getKey()), retiree.table(), retiree.column());
            boolean first = true;
            for (String columns : child.getValue()) {
                // All that lead there go with the first one: the table is made anew once.
                links.add(SchemaObject.inTheWay(
                        Kind.LINK_FROM_ELSEWHERE,
                        child.getKey() + "." + columns,
                        text,
                        first ? rebuilding(child.getKey(), without) : List.of(),
                        first ? rebuilding(child.getKey(), text) : List.of()));
                first = false;
            }
        }
        return links;
    }

    private List<String> rebuilding(String name, String text) throws SQLException {
        List<String> columns = plainColumns(name);
        return rebuilding(name, text, List.of(), columns, columns);
    }

    /** Makes a table anew; what stands on it comes back but for what is left out. */
    private List<String> rebuilding(String name, String text, List<String> left, List<String> from, List<String> to)
            throws SQLException {
        List<List<String>> standing = ask.rows(
                "select name, sql, type from sqlite_schema where type in ('index', 'trigger') and tbl_name = ? collate nocase and sql is not null order by rowid",
                name);
        List<String> statements = new ArrayList<>();
        standing.forEach(row -> statements.add("drop " + row.get(2) + " if exists " + dialect.quote(row.get(0))));
        statements.add("alter table " + dialect.quote(name) + " rename to " + dialect.quote(REBUILT));
        statements.add(text);
        statements.add("insert into " + dialect.quote(name) + " (" + String.join(", ", to) + ") select "
                + String.join(", ", from) + " from " + dialect.quote(REBUILT));
        statements.addAll(counters(name, REBUILT));
        statements.add("drop table " + dialect.quote(REBUILT));
        standing.stream().filter(row -> !left.contains(row.get(0))).forEach(row -> statements.add(row.get(1)));
        return statements;
    }

    /** The highest number that was ever given, where that is kept. */
    private List<String> counters(String name, String from) throws SQLException {
        boolean kept = !ask.texts("select 1 from sqlite_schema where name = 'sqlite_sequence'")
                        .isEmpty()
                && SqlWords.mention(textOf(name), "AUTOINCREMENT");
        return kept
                ? List.of(
                        "delete from sqlite_sequence where name = '" + name.replace("'", "''") + "'",
                        "insert into sqlite_sequence (name, seq) select '" + name.replace("'", "''")
                                + "', seq from sqlite_sequence where name = '" + from.replace("'", "''") + "'")
                : List.of();
    }

    private Shape ofTable(List<SchemaObject> objects, List<String> unknown) throws SQLException {
        String aside = dialect.quote(retiree.aside());
        String columns = String.join(", ", plainColumns(retiree.table()));
        for (List<String> row : ask.rows(
                "select group_concat(\"from\", ','), \"table\" from pragma_foreign_key_list(?) group by id order by id desc",
                retiree.table())) {
            // Setting it aside makes it without them.
            objects.add(new SchemaObject(
                    Kind.FOREIGN_KEY,
                    retiree.table() + "." + row.get(0),
                    Fate.KEPT_APART,
                    false,
                    "references " + row.get(1),
                    List.of(),
                    List.of(),
                    Optional.empty()));
        }
        for (List<String> row : ask.rows(
                "select type, name, sql from sqlite_schema where type in ('index', 'trigger') and tbl_name = ? collate nocase and sql is not null order by rowid desc",
                retiree.table())) {
            boolean index = row.get(0).equals("index");
            objects.add(SchemaObject.apart(
                    index ? Kind.INDEX : Kind.TRIGGER,
                    row.get(1),
                    row.get(2),
                    "drop " + row.get(0) + " " + dialect.quote(row.get(1)),
                    row.get(2)));
        }
        made.constraints().forEach(part -> {
            if (SqlWords.indexOf(part, "FOREIGN", 0) < 0) {
                objects.add(SchemaObject.with(
                        kind(part),
                        SqlWords.text(part).strip(),
                        SqlWords.text(part).strip()));
            }
        });
        List<String> away = new ArrayList<>(List.of(
                made.withoutLinks(aside),
                "insert into " + aside + " (" + columns + ") select " + columns + " from " + table));
        away.addAll(renumbered(retiree.table(), retiree.aside()));
        away.add("drop table " + table);
        List<String> back = new ArrayList<>(
                List.of(sql, "insert into " + table + " (" + columns + ") select " + columns + " from " + aside));
        back.addAll(renumbered(retiree.aside(), retiree.table()));
        back.add("drop table " + aside);
        return new Shape(
                objects, away, back, List.of("drop table " + aside), List.of(sql), List.of(), numbering(), unknown);
    }

    private List<String> renumbered(String from, String to) throws SQLException {
        if (!SqlWords.mention(sql, "AUTOINCREMENT")) {
            return List.of();
        }
        return List.of(
                "delete from sqlite_sequence where name = '" + to.replace("'", "''") + "'",
                "insert into sqlite_sequence (name, seq) select '" + to.replace("'", "''")
                        + "', seq from sqlite_sequence where name = '" + from.replace("'", "''") + "'");
    }

    private List<String> numbering() throws SQLException {
        if (!SqlWords.mention(sql, "AUTOINCREMENT")) {
            return List.of();
        }
        return ask.texts("select seq from sqlite_sequence where name = ? collate nocase", retiree.table()).stream()
                .flatMap(last -> List.of(
                        "delete from sqlite_sequence where name = '"
                                + retiree.table().replace("'", "''") + "'",
                        "insert into sqlite_sequence (name, seq) values ('"
                                + retiree.table().replace("'", "''") + "', " + last + ")")
                        .stream())
                .toList();
    }

    private static Kind kind(List<Word> part) {
        return SqlWords.indexOf(part, "PRIMARY", 0) >= 0
                ? Kind.PRIMARY_KEY
                : SqlWords.indexOf(part, "UNIQUE", 0) >= 0 ? Kind.UNIQUE_KEY : Kind.CHECK;
    }

    private Shape ofColumn(List<SchemaObject> objects, List<String> unknown) throws SQLException {
        String column = retiree.column().orElseThrow();
        String aside = retiree.aside();
        List<Word> definition = made.column(column)
                .orElseThrow(() -> new IllegalStateException(retiree.table() + " has no " + column + " in its text"));
        made.readersOf(column)
                .forEach(reader -> objects.add(SchemaObject.forbidding(
                        Kind.GENERATED_COLUMN,
                        reader,
                        SqlWords.text(made.column(reader).orElseThrow()).strip(),
                        "Retire " + reader + " first; it reads the column.")));
        boolean inKey = ask
                .texts("select pk from pragma_table_info(?) where name = ? collate nocase", retiree.table(), column)
                .stream()
                .anyMatch(place -> !place.equals("0"));
        if (inKey) {
            objects.add(SchemaObject.forbidding(
                    Kind.PRIMARY_KEY,
                    retiree.table(),
                    SqlWords.text(definition).strip(),
                    "A column of the primary key can't retire; retire the table, or give it another key first."));
        }
        List<String> left = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select type, name, sql from sqlite_schema where type in ('index', 'trigger') and tbl_name = ? collate nocase and sql is not null order by rowid desc",
                retiree.table())) {
            if (SqlWords.mention(row.get(2), column)) {
                left.add(row.get(1));
                String removal = "drop " + row.get(0) + " " + dialect.quote(row.get(1));
                objects.add(
                        row.get(0).equals("index")
                                ? SchemaObject.apart(Kind.INDEX, row.get(1), row.get(2), removal, row.get(2))
                                : SchemaObject.inTheWay(
                                        Kind.TRIGGER, row.get(1), row.get(2), List.of(removal), List.of(row.get(2))));
            }
        }
        constraints(definition, column, objects);
        if (made.isRequired(definition)) {
            List<String> all = plainColumns(retiree.table());
            objects.add(new SchemaObject(
                    Kind.NOT_NULL,
                    column,
                    Fate.KEPT_APART,
                    false,
                    "not null",
                    List.of(),
                    rebuilding(retiree.table(), sql, left, all, all),
                    Optional.empty()));
        }
        boolean generated = CreateTable.has(definition, "GENERATED") || CreateTable.has(definition, "AS");
        String without = made.settingAside(table, column, aside);
        List<String> columns = plainColumns(retiree.table());
        List<String> renamed = columns.stream()
                .map(name -> name.equalsIgnoreCase(dialect.quote(column)) ? dialect.quote(aside) : name)
                .toList();
        List<String> others = columns.stream()
                .filter(name -> !name.equalsIgnoreCase(dialect.quote(column)))
                .toList();
        List<String> filled = generated ? others : columns;
        return new Shape(
                objects,
                rebuilding(retiree.table(), without, left, generated ? others : columns, generated ? others : renamed),
                rebuilding(retiree.table(), sql, left, generated ? others : renamed, generated ? others : columns),
                rebuilding(retiree.table(), CreateTable.of(without).dropping(table, aside), left, others, others),
                rebuilding(retiree.table(), made.settingAside(table, column, column), left, others, others),
                rebuilding(
                        retiree.table(),
                        made.isRequired(definition) ? made.withoutNotNull(table, column) : sql,
                        left,
                        filled,
                        filled),
                List.of(),
                unknown);
    }

    private List<String> plainColumns(String name) throws SQLException {
        return ask.texts("select name from pragma_table_xinfo(?) where hidden = 0 order by cid", name).stream()
                .map(dialect::quote)
                .toList();
    }

    /** What its definition and the table say of it, which the table is made anew without. */
    private void constraints(List<Word> definition, String column, List<SchemaObject> objects) {
        CreateTable.segments(definition).stream().skip(1).forEach(segment -> {
            String text = SqlWords.text(segment).strip();
            boolean named = segment.get(0).is("CONSTRAINT");
            Word first = segment.get(named ? 2 : 0);
            Optional<Kind> kind = first.is("REFERENCES")
                    ? Optional.of(Kind.FOREIGN_KEY)
                    : first.is("UNIQUE")
                            ? Optional.of(Kind.UNIQUE_KEY)
                            : first.is("CHECK") ? Optional.of(Kind.CHECK) : Optional.empty();
            kind.ifPresent(of ->
                    objects.add(kept(of, of == Kind.FOREIGN_KEY ? retiree.table() + "." + column : column, text)));
            if (first.is("DEFAULT")) {
                objects.add(SchemaObject.with(Kind.DEFAULT, column, text));
            }
        });
        made.constraints().forEach(part -> {
            int references = SqlWords.indexOf(part, "REFERENCES", 0);
            if (SqlWords.mention(references < 0 ? part : part.subList(0, references), column)) {
                String text = SqlWords.text(part).strip();
                objects.add(kept(
                        references >= 0 ? Kind.FOREIGN_KEY : kind(part),
                        references >= 0 ? retiree.table() + "." + column : text,
                        text));
            }
        });
    }

    private static SchemaObject kept(Kind kind, String name, String text) {
        return new SchemaObject(kind, name, Fate.KEPT_APART, false, text, List.of(), List.of(), Optional.empty());
    }
}
