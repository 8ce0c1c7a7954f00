package dev.vacancy.internal.dialect;

import dev.vacancy.internal.dialect.SqlWords.Word;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.Dependent.Kind;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What MariaDB and MySQL tell of one table or column, by SHOW CREATE and their information schema. */
final class MariaDbObjects {
    /** What the name of an index of ours begins with, which stands in for a unique key that is kept apart. */
    private static final String STAND_IN = "vacancy_";

    private static final int LONGEST_NAME = 64;

    private final Naming names;
    private final CatalogQuery ask;
    private final Retiree retiree;
    private final String table;
    private final String definition;
    private final List<String> parts = new ArrayList<>();

    MariaDbObjects(Naming names, CatalogQuery ask, Retiree retiree) throws SQLException {
        this.names = names;
        this.ask = ask;
        this.retiree = retiree;
        this.table = names.name(retiree.schema(), retiree.table());
        this.definition = ask.rows("show create table " + table).get(0).get(1);
        parts(definition).forEach(parts::add);
    }

    private static List<String> parts(String definition) {
        return SqlWords.parts(SqlWords.groupBehind(SqlWords.of(definition), 0)).stream()
                .map(part -> SqlWords.text(part).strip())
                .toList();
    }

    Shape shape() throws SQLException {
        List<SchemaObject> objects = new ArrayList<>(views());
        objects.addAll(linksFromElsewhere());
        objects.addAll(routines());
        objects.addAll(triggers());
        if (SqlWords.mention(definition.substring(definition.lastIndexOf("\n)")), "VERSIONING")) {
            objects.add(SchemaObject.forbidding(
                    Kind.SETTING,
                    retiree.table(),
                    "with system versioning",
                    "Its earlier versions could not be brought back; drop the system versioning first."));
        }
        List<String> unknown = List.of(
                "MariaDB tells views, triggers and routines by their text only, and not what statements put together as text read and write.",
                "It commits each change of a table: if this process dies in between, the return of the retirement takes back what was done.");
        return retiree.column().isPresent() ? ofColumn(objects, unknown) : ofTable(objects, unknown);
    }

    private boolean isColumn() {
        return retiree.column().isPresent();
    }

    /** Whether a text, in which names stand in backquotes or plain, names the table, and the column if that retires. */
    private boolean isNamedIn(String text) {
        return text != null
                && SqlWords.mention(text, retiree.table())
                && retiree.column()
                        .map(column -> SqlWords.mention(text, column))
                        .orElse(true);
    }

    /** The text of a view says of which schema each table is. */
    private static boolean isRead(String view, String qualified) {
        return view != null && view.contains(qualified);
    }

    private Shape ofTable(List<SchemaObject> objects, List<String> unknown) throws SQLException {
        String aside = names.name(retiree.schema(), retiree.aside());
        List<String> kept = new ArrayList<>();
        for (String part : parts) {
            if (isLink(part)) {
                objects.add(link(table, retiree.table(), part, false, parts));
            } else {
                kept.add(part);
                with(part).ifPresent(objects::add);
            }
        }
        objects.addAll(grants());
        int body = definition.indexOf('(');
        int tail = body + SqlWords.of(definition.substring(body)).get(0).text().length();
        String end = definition.substring(tail);
        if (SqlWords.mention(end, "PARTITION")) {
            objects.add(SchemaObject.with(Kind.PARTITION, retiree.table(), end.strip()));
        }
        return new Shape(
                objects,
                List.of("rename table " + table + " to " + aside),
                List.of("rename table " + aside + " to " + table),
                List.of("drop table " + aside),
                List.of("create table " + table + " (\n  " + String.join(",\n  ", kept) + "\n)" + end),
                List.of(),
                List.of(),
                unknown);
    }

    private Optional<SchemaObject> with(String part) {
        List<Word> words = SqlWords.of(part);
        Word first = words.get(0);
        if (first.text().startsWith("`")) {
            return SqlWords.mention(words.subList(1, words.size()), "GENERATED")
                    ? Optional.of(SchemaObject.with(Kind.GENERATED_COLUMN, first.name(), part))
                    : Optional.empty();
        }
        Kind kind = first.is("PRIMARY")
                ? Kind.PRIMARY_KEY
                : first.is("UNIQUE") ? Kind.UNIQUE_KEY : first.is("CONSTRAINT") ? Kind.CHECK : Kind.INDEX;
        return Optional.of(SchemaObject.with(kind, kind == Kind.PRIMARY_KEY ? "primary" : nameOf(words), part));
    }

    private static String nameOf(List<Word> words) {
        return words.stream()
                .filter(word -> word.text().startsWith("`"))
                .findFirst()
                .map(Word::name)
                .orElse("");
    }

    private static boolean isLink(String part) {
        List<Word> words = SqlWords.of(part);
        return words.get(0).is("CONSTRAINT") && words.size() > 2 && words.get(2).is("FOREIGN");
    }

    private static List<String> names(List<Word> group) {
        return SqlWords.parts(group).stream().map(part -> part.get(0).name()).toList();
    }

    /** A key that a foreign key has brought along gives way to another one of the next foreign key's name, unless it is made for itself. */
    private String explicitKey(List<Word> link, List<String> all) {
        List<String> columns = names(SqlWords.groupBehind(link, 2));
        return all.stream()
                .filter(part -> part.startsWith("KEY ")
                        && names(SqlWords.groupBehind(SqlWords.of(part), 0)).equals(columns))
                .findFirst()
                .map(key -> "drop key " + names.quote(nameOf(SqlWords.of(key))) + ", add " + key + ", ")
                .orElse("");
    }

    private SchemaObject link(String on, String shown, String part, boolean inTheWay, List<String> all) {
        List<Word> words = SqlWords.of(part);
        String name = shown + "." + String.join(",", names(SqlWords.groupBehind(words, 2)));
        String removal =
                "alter table " + on + " drop foreign key " + words.get(1).text();
        String creation = "alter table " + on + " " + explicitKey(words, all) + "add " + part;
        return inTheWay
                ? SchemaObject.inTheWay(
                        on.equals(table) ? Kind.FOREIGN_KEY : Kind.LINK_FROM_ELSEWHERE,
                        name,
                        part,
                        List.of(removal),
                        List.of(creation))
                : SchemaObject.apart(Kind.FOREIGN_KEY, name, part, removal, creation);
    }

    private List<SchemaObject> linksFromElsewhere() throws SQLException {
        List<SchemaObject> links = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select distinct constraint_schema, table_name, constraint_name from information_schema.key_column_usage"
                        + " where referenced_table_schema = ? and referenced_table_name = ?"
                        + (isColumn()
                                ? " and referenced_column_name = ?"
                                : " and not (table_schema = referenced_table_schema and table_name = referenced_table_name)")
                        + " order by 1, 2, 3",
                isColumn()
                        ? new Object[] {
                            retiree.schema(), retiree.table(), retiree.column().get()
                        }
                        : new Object[] {retiree.schema(), retiree.table()})) {
            String on = names.name(row.get(0), row.get(1));
            List<String> all = parts(ask.rows("show create table " + on).get(0).get(1));
            for (String part : all) {
                if (isLink(part)
                        && nameOf(SqlWords.of(part)).equals(row.get(2))
                        && !(on.equals(table) && isOnColumn(part))) {
                    links.add(link(on, row.get(1), part, true, all));
                }
            }
        }
        return links;
    }

    private boolean isOnColumn(String part) {
        return retiree.column()
                .map(column -> names(SqlWords.groupBehind(SqlWords.of(part), 2)).contains(column))
                .orElse(true);
    }

    private List<SchemaObject> views() throws SQLException {
        Map<String, SchemaObject> views = new LinkedHashMap<>();
        List<String> reached = new ArrayList<>();
        List<List<String>> all = ask.rows(
                "select table_schema, table_name, view_definition from information_schema.views where table_schema not in ('sys', 'mysql', 'information_schema', 'performance_schema') order by 1, 2");
        boolean more = true;
        while (more) {
            more = false;
            for (List<String> view : all) {
                String name = names.name(view.get(0), view.get(1));
                boolean reads = (isRead(view.get(2), table) && isNamedIn(view.get(2)))
                        || reached.stream().anyMatch(other -> isRead(view.get(2), other));
                if (reads && !views.containsKey(name)) {
                    views.put(
                            name,
                            SchemaObject.inTheWay(
                                    Kind.VIEW,
                                    view.get(1),
                                    view.get(2),
                                    List.of("drop view " + name),
                                    List.of(ask.rows("show create view " + name)
                                            .get(0)
                                            .get(1))));
                    reached.add(name);
                    more = true;
                }
            }
        }
        List<SchemaObject> lastFirst = new ArrayList<>();
        views.values().forEach(view -> lastFirst.add(0, view));
        return lastFirst;
    }

    /** Routines, events, and triggers of other tables whose text names it. */
    private List<SchemaObject> routines() throws SQLException {
        List<SchemaObject> routines = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select routine_name, routine_definition, 'r' from information_schema.routines where routine_schema = ?"
                        + " union all select event_name, event_definition, 'r' from information_schema.events where event_schema = ?"
                        + " union all select trigger_name, action_statement, 't' from information_schema.triggers where trigger_schema = ? and event_object_table <> ? order by 1",
                retiree.schema(),
                retiree.schema(),
                retiree.schema(),
                retiree.table())) {
            if (isNamedIn(row.get(1))) {
                Kind kind = row.get(2).equals("t") ? Kind.TRIGGER : Kind.ROUTINE;
                routines.add(SchemaObject.naming(kind, row.get(0), row.get(1)));
            }
        }
        return routines;
    }

    private List<SchemaObject> triggers() throws SQLException {
        List<SchemaObject> triggers = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select trigger_name, action_statement, sql_mode from information_schema.triggers where trigger_schema = ? and event_object_table = ? order by action_order, 1",
                retiree.schema(),
                retiree.table())) {
            if (isColumn() && !SqlWords.mention(row.get(1), retiree.column().get())) {
                continue;
            }
            String name = names.name(retiree.schema(), row.get(0));
            List<String> again = List.of(
                    "set @vacancy_mode = @@session.sql_mode",
                    "set session sql_mode = '" + row.get(2) + "'",
                    ask.rows("show create trigger " + name).get(0).get(2),
                    "set session sql_mode = @vacancy_mode");
            List<String> removal = List.of("drop trigger " + name);
            triggers.add(
                    isColumn()
                            ? SchemaObject.inTheWay(Kind.TRIGGER, row.get(0), again.get(2), removal, again)
                            : new SchemaObject(
                                    Kind.TRIGGER,
                                    row.get(0),
                                    Fate.KEPT_APART,
                                    false,
                                    again.get(2),
                                    removal,
                                    again,
                                    Optional.empty()));
        }
        // Those of one moment have an order, which they get by being made in it.
        return reversed(triggers);
    }

    private static List<SchemaObject> reversed(List<SchemaObject> objects) {
        List<SchemaObject> reversed = new ArrayList<>();
        objects.forEach(object -> reversed.add(0, object));
        return reversed;
    }

    private List<SchemaObject> grants() throws SQLException {
        List<SchemaObject> grants = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select grantee, group_concat(privilege_type order by privilege_type separator ', ') from information_schema.table_privileges"
                        + " where table_schema = ? and table_name = ? group by grantee order by 1",
                retiree.schema(),
                retiree.table())) {
            // Rights belong to the name here, and stay when the table goes.
            grants.add(new SchemaObject(
                    Kind.GRANT, row.get(0), Fate.STAYS, false, row.get(1), List.of(), List.of(), Optional.empty()));
        }
        return grants;
    }

    private Shape ofColumn(List<SchemaObject> objects, List<String> unknown) {
        String column = retiree.column().orElseThrow();
        String name = names.quote(column);
        String aside = names.quote(retiree.aside());
        List<SchemaObject> checks = new ArrayList<>();
        List<SchemaObject> indexes = new ArrayList<>();
        String own = "";
        String place = " first";
        String before = null;
        for (String part : parts) {
            List<Word> words = SqlWords.of(part);
            if (words.get(0).text().equals(name)) {
                own = part;
                place = before == null ? " first" : " after " + before;
            } else if (words.get(0).text().startsWith("`")) {
                if (own.isEmpty()) {
                    before = words.get(0).text();
                }
                if (SqlWords.mention(words, column)) {
                    String reader = words.get(0).name();
                    objects.add(SchemaObject.forbidding(
                            Kind.GENERATED_COLUMN, reader, part, "Retire " + reader + " first."));
                }
            } else if (isLink(part)) {
                if (isOnColumn(part)) {
                    objects.add(link(table, retiree.table(), part, false, parts));
                }
            } else if (SqlWords.mention(words, column)) {
                key(words, part, checks, indexes);
            }
        }
        objects.addAll(checks);
        objects.addAll(indexes);
        List<Word> words = SqlWords.of(own);
        String plain = plain(words);
        if (SqlWords.mention(words, "AUTO_INCREMENT")) {
            objects.add(SchemaObject.forbidding(
                    Kind.SEQUENCE, column, own, "Retire the table, or take AUTO_INCREMENT from the column first."));
        }
        if (SqlWords.mention(definition.substring(definition.lastIndexOf("\n)")), column)) {
            objects.add(SchemaObject.forbidding(
                    Kind.PARTITION, retiree.table(), "parts by " + column, "Give the table other parts first."));
        }
        String nullable = withoutNotNull(words);
        if (!nullable.equals(own)) {
            objects.add(ofDefinition(Kind.NOT_NULL, "not null", own + place));
        }
        if (!plain.equals(nullable)) {
            String check = SqlWords.text(words.subList(SqlWords.indexOf(words, "CHECK", 1), words.size()));
            objects.add(ofDefinition(Kind.CHECK, check.strip(), nullable + place));
        }
        return new Shape(
                objects,
                List.of("alter table " + table + " change column " + name + " " + aside
                        + plain.substring(name.length())),
                List.of("alter table " + table + " change column " + aside + " " + own + place),
                List.of("alter table " + table + " drop column " + aside),
                List.of("alter table " + table + " add column " + plain + place),
                List.of(),
                List.of(),
                unknown);
    }

    /** What a column's own definition says is left out by the statement that renames it. */
    private SchemaObject ofDefinition(Kind kind, String definition, String again) {
        return new SchemaObject(
                kind,
                retiree.column().orElseThrow(),
                Fate.KEPT_APART,
                false,
                definition,
                List.of(),
                List.of("alter table " + table + " modify column " + again),
                Optional.empty());
    }

    /** A primary key forbids it, a unique key and a check are kept apart, and of an index the database drops the column by itself. */
    private void key(List<Word> words, String part, List<SchemaObject> checks, List<SchemaObject> indexes) {
        if (words.get(0).is("PRIMARY")) {
            checks.add(SchemaObject.forbidding(
                    Kind.PRIMARY_KEY,
                    "primary",
                    part,
                    "A column of the primary key can't retire; retire the table, or give it another key first."));
        } else if (words.get(0).is("CONSTRAINT")) {
            checks.add(SchemaObject.apart(
                    Kind.CHECK,
                    words.get(1).name(),
                    part,
                    "alter table " + table + " drop constraint " + words.get(1).text(),
                    "alter table " + table + " add " + part));
        } else {
            boolean single = names(words.stream()
                                    .filter(Word::isGroup)
                                    .findFirst()
                                    .orElseThrow()
                                    .inside())
                            .size()
                    == 1;
            String old = words.stream()
                    .filter(word -> word.text().startsWith("`"))
                    .findFirst()
                    .orElseThrow()
                    .text();
            String name = nameOf(words);
            if (words.get(0).is("UNIQUE")) {
                String standIn = names.quote(cut(STAND_IN + name));
                String plainKey = part.substring("UNIQUE ".length())
                        .replaceFirst(Pattern.quote(old), Matcher.quoteReplacement(standIn));
                checks.add(SchemaObject.apart(
                        Kind.UNIQUE_KEY,
                        name,
                        part,
                        "alter table " + table + " drop key " + old + (single ? "" : ", add " + plainKey),
                        "alter table " + table + (single ? " add " : " drop key " + standIn + ", add ") + part));
            } else {
                indexes.add(SchemaObject.with(
                        Kind.INDEX,
                        name,
                        part,
                        "alter table " + table + (single ? " add " : " drop key " + old + ", add ") + part));
            }
        }
    }

    private static String cut(String name) {
        return name.length() <= LONGEST_NAME
                ? name
                : name.substring(0, LONGEST_NAME - 9) + "_" + Integer.toHexString(name.hashCode());
    }

    /** The definition of a column without what says something of its values. */
    private static String plain(List<Word> definition) {
        List<Word> kept = new ArrayList<>(definition);
        int check = SqlWords.indexOf(kept, "CHECK", 1);
        if (check > 0) {
            kept.subList(check, check + 2).clear();
        }
        return withoutNotNull(kept);
    }

    /** The definition of a column so that it may have no value, where none comes by itself. */
    private static String withoutNotNull(List<Word> definition) {
        List<Word> kept = new ArrayList<>(definition);
        int not = SqlWords.indexOf(kept, "NOT", 1);
        boolean required = not > 0 && kept.get(not + 1).is("NULL");
        if (required && SqlWords.indexOf(kept, "DEFAULT", 1) < 0) {
            boolean moment = kept.get(1).is("timestamp");
            kept.subList(not, not + 2).clear();
            if (moment) {
                kept.add(not, new Word("NULL", " "));
            }
        }
        return SqlWords.text(kept).strip();
    }
}
