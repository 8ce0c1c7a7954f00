package dev.vacancy.internal.dialect;

import dev.vacancy.internal.dialect.SqlWords.Word;
import dev.vacancy.retirement.Dependent.Kind;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** H2 tells all that it has as statements, by SCRIPT, which takes the rights of an administrator. */
final class H2Reshaping implements Reshaping {
    private static final String NAME = "\"(?:[^\"]|\"\")+\"";
    private static final Pattern TABLE =
            Pattern.compile("CREATE (?:CACHED |MEMORY )?TABLE (" + NAME + "\\." + NAME + ")\\(.*", Pattern.DOTALL);
    private static final Pattern CONSTRAINT = Pattern.compile(
            "ALTER TABLE (" + NAME + "\\." + NAME + ") ADD CONSTRAINT (" + NAME + "\\." + NAME + ") (.*?)( NOCHECK)?",
            Pattern.DOTALL);
    private static final Pattern INDEX = Pattern.compile(
            "CREATE .*?INDEX (" + NAME + "\\." + NAME + ") ON (" + NAME + "\\." + NAME + ").*", Pattern.DOTALL);
    private static final Pattern VIEW =
            Pattern.compile("CREATE FORCE (?:MATERIALIZED )?VIEW (" + NAME + "\\." + NAME + ").*", Pattern.DOTALL);
    private static final Pattern TRIGGER = Pattern.compile(
            "CREATE FORCE TRIGGER (" + NAME + "\\." + NAME + ") .*? ON (" + NAME + "\\." + NAME + ") .*",
            Pattern.DOTALL);
    private static final Pattern GRANT =
            Pattern.compile("GRANT .* ON (" + NAME + "\\." + NAME + ") TO (.*)", Pattern.DOTALL);

    /** Texts, escaped names and other names, so that none of them is looked for inside another. */
    private static final Pattern QUOTED = Pattern.compile("'(?:[^']|'')*'|U&\"((?:[^\"]|\"\")*)\"|\"(?:[^\"]|\"\")*\"");

    private static final Pattern ESCAPED = Pattern.compile("\\\\(?:\\\\|(\\+[0-9a-fA-F]{6}|[0-9a-fA-F]{4}))");

    private final Dialect dialect;

    H2Reshaping(Dialect dialect) {
        this.dialect = dialect;
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return List.of(new Setting("select lock_timeout()", "set lock_timeout ", 1, false));
    }

    @Override
    public List<String> use(Connection connection, Retiree retiree) {
        return List.of("H2 keeps no figures of what is used: nobody knows whether anything still uses it.");
    }

    @Override
    public Shape shape(Connection connection, Retiree retiree) throws SQLException {
        List<String> script = new CatalogQuery(connection)
                .texts("script nodata nopasswords nosettings").stream()
                        .map(statement ->
                                statement.endsWith(";") ? statement.substring(0, statement.length() - 1) : statement)
                        .map(H2Reshaping::plainNames)
                        .toList();
        return new Reading(retiree, script).shape();
    }

    /** Writes names as everybody does, where SCRIPT escapes their letters (ISO/IEC 9075-2, section 5.4, Unicode delimited identifier). */
    private static String plainNames(String statement) {
        return QUOTED.matcher(statement)
                .replaceAll(quoted -> Matcher.quoteReplacement(
                        quoted.group(1) == null ? quoted.group() : '"' + unescaped(quoted.group(1)) + '"'));
    }

    private static String unescaped(String name) {
        return ESCAPED.matcher(name)
                .replaceAll(escape -> Matcher.quoteReplacement(
                        escape.group(1) == null
                                ? "\\"
                                : Character.toString(
                                        Integer.parseInt(escape.group(1).replace("+", ""), 16))));
    }

    @Override
    public List<SchemaObject> watching(Connection connection, String schema, String table) throws SQLException {
        return new CatalogQuery(connection)
                        .rows(
                                "select trigger_name, coalesce(java_class, 'Java') from information_schema.triggers where event_object_schema = ? and event_object_table = ? and event_manipulation like '%UPDATE%' order by 1",
                                schema, table)
                        .stream()
                        .map(row -> SchemaObject.naming(Kind.TRIGGER, SqlWords.shown(row.get(0)), row.get(1)))
                        .toList();
    }

    private static String shown(String quotedPair) {
        List<Word> words = SqlWords.of(quotedPair);
        return SqlWords.shown(words.get(words.size() - 1).name());
    }

    /** One look at all statements. */
    private final class Reading {
        private final Retiree retiree;
        private final List<String> script;
        private final String table;
        private final Optional<String> column;

        Reading(Retiree retiree, List<String> script) {
            this.retiree = retiree;
            this.script = script;
            this.table = dialect.name(retiree.schema(), retiree.table());
            this.column = retiree.column().map(dialect::quote);
        }

        Shape shape() {
            List<SchemaObject> objects = new ArrayList<>(views());
            objects.addAll(constraints());
            objects.addAll(triggers());
            objects.addAll(rest());
            List<String> unknown = List.of(
                    "H2 doesn't tell what functions and triggers, which are Java, read and write.",
                    "H2 commits each statement: if this process dies in between, the return of the retirement takes back what was done.");
            return column.isPresent() ? ofColumn(objects, unknown) : ofTable(objects, unknown);
        }

        private Shape ofTable(List<SchemaObject> objects, List<String> unknown) {
            String aside = dialect.name(retiree.schema(), retiree.aside());
            return new Shape(
                    objects,
                    List.of("alter table " + table + " rename to " + dialect.quote(retiree.aside())),
                    List.of("alter table " + aside + " rename to " + dialect.quote(retiree.table())),
                    List.of("drop table " + aside + " restrict"),
                    List.of(definition()),
                    List.of(),
                    List.of(),
                    unknown);
        }

        private String definition() {
            return script.stream()
                    .filter(statement -> matches(TABLE, statement, table))
                    .findFirst()
                    .orElseThrow(() -> new IllegalStateException(table + " isn't in what H2 tells of its tables"));
        }

        private boolean matches(Pattern pattern, String statement, String name) {
            Matcher matcher = pattern.matcher(statement);
            return matcher.matches() && matcher.group(1).equals(name);
        }

        private Shape ofColumn(List<SchemaObject> objects, List<String> unknown) {
            String name = column.orElseThrow();
            String aside = dialect.quote(retiree.aside());
            List<List<Word>> parts = SqlWords.parts(SqlWords.groupBehind(SqlWords.of(definition()), 0));
            int place = place(parts);
            String definition = SqlWords.text(parts.get(place)).strip();
            String before = place + 1 < parts.size()
                    ? " before " + parts.get(place + 1).get(0).text()
                    : "";
            List<SchemaObject> all = new ArrayList<>(objects);
            for (List<Word> part : parts) {
                if (part != parts.get(place)
                        && SqlWords.mention(
                                part.subList(1, part.size()), retiree.column().orElseThrow())) {
                    String reader = SqlWords.shown(part.get(0).name());
                    all.add(
                            0,
                            SchemaObject.forbidding(
                                    Kind.GENERATED_COLUMN,
                                    reader,
                                    SqlWords.text(part).strip(),
                                    "Retire " + reader + " first."));
                }
            }
            String nullable = withoutNotNull(parts.get(place));
            boolean bare = !nullable.equals(definition);
            if (bare && !SqlWords.mention(parts.get(place), "DEFAULT")) {
                all.add(SchemaObject.apart(
                        Kind.NOT_NULL,
                        SqlWords.shown(retiree.column().orElseThrow()),
                        "not null",
                        "alter table " + table + " alter column " + name + " drop not null",
                        "alter table " + table + " alter column " + name + " set not null"));
            }
            if (SqlWords.mention(parts.get(place), "IDENTITY")) {
                all.add(
                        0,
                        SchemaObject.forbidding(
                                Kind.SEQUENCE,
                                SqlWords.shown(retiree.column().orElseThrow()),
                                definition,
                                "Retire the table, or take the identity from the column first."));
            }
            List<String> removal = new ArrayList<>();
            objects.stream()
                    .filter(object -> object.kind() == Kind.INDEX)
                    .forEach(object -> removal.add("drop index if exists " + indexName(object.definition())));
            removal.add("alter table " + table + " drop column " + aside);
            return new Shape(
                    all,
                    List.of("alter table " + table + " alter column " + name + " rename to " + aside),
                    List.of("alter table " + table + " alter column " + aside + " rename to " + name),
                    removal,
                    List.of("alter table " + table + " add column "
                            + (SqlWords.mention(parts.get(place), "DEFAULT") ? definition : nullable) + before),
                    List.of(),
                    List.of(),
                    unknown);
        }

        private String indexName(String definition) {
            Matcher matcher = INDEX.matcher(definition);
            if (!matcher.matches()) {
                throw new IllegalStateException(definition);
            }
            return matcher.group(1);
        }

        private int place(List<List<Word>> parts) {
            for (int i = 0; i < parts.size(); i++) {
                if (parts.get(i).get(0).text().equals(column.orElseThrow())) {
                    return i;
                }
            }
            throw new IllegalStateException(table + " has no " + column.orElseThrow() + " in what H2 tells of it");
        }

        private String withoutNotNull(List<Word> part) {
            List<Word> kept = new ArrayList<>(part);
            int at = SqlWords.indexOf(kept, "NOT", 1);
            if (at > 0 && at + 1 < kept.size() && kept.get(at + 1).is("NULL")) {
                kept.subList(at, at + 2).clear();
            }
            return SqlWords.text(kept).strip();
        }

        /** Views on it, and views on these, the last one first. */
        private List<SchemaObject> views() {
            List<SchemaObject> views = new ArrayList<>();
            List<String> reached = new ArrayList<>(List.of(table));
            for (String statement : script) {
                Matcher view = VIEW.matcher(statement);
                if (!view.matches()) {
                    continue;
                }
                String text = statement.substring(view.end(1));
                boolean reads = reached.stream()
                        .anyMatch(name -> text.contains(name)
                                && (!name.equals(table)
                                        || column.map(text::contains).orElse(true)));
                if (reads) {
                    reached.add(view.group(1));
                    List<String> again = new ArrayList<>(List.of(statement));
                    script.stream()
                            .filter(grant -> matches(GRANT, grant, view.group(1)))
                            .forEach(again::add);
                    views.add(SchemaObject.inTheWay(
                            Kind.VIEW,
                            shown(view.group(1)),
                            statement,
                            List.of("drop view " + view.group(1) + " restrict"),
                            again));
                }
            }
            Collections.reverse(views);
            return views;
        }

        private List<SchemaObject> constraints() {
            List<SchemaObject> foreign = new ArrayList<>();
            List<SchemaObject> own = new ArrayList<>();
            for (String statement : script) {
                Matcher constraint = CONSTRAINT.matcher(statement);
                if (constraint.matches()) {
                    String on = constraint.group(1);
                    String rule = constraint.group(3);
                    String again = "alter table " + on + " add constraint " + constraint.group(2) + " " + rule;
                    String removal = "alter table " + on + " drop constraint " + constraint.group(2);
                    if (rule.startsWith("FOREIGN KEY")) {
                        link(on, rule, removal, again, foreign, own);
                    } else if (on.equals(table) && column.map(rule::contains).orElse(true)) {
                        own.add(own(rule, shown(constraint.group(2)), removal, again));
                    }
                }
            }
            foreign.addAll(own);
            return foreign;
        }

        private void link(
                String on,
                String rule,
                String removal,
                String again,
                List<SchemaObject> foreign,
                List<SchemaObject> own) {
            List<Word> words = SqlWords.of(rule);
            int references = SqlWords.indexOf(words, "REFERENCES", 0);
            List<Word> child = SqlWords.groupBehind(words, 0);
            List<Word> parent = SqlWords.groupBehind(words, references);
            String parentTable = words.get(references + 1).text() + "."
                    + words.get(references + 3).text();
            String name = shown(on) + "."
                    + String.join(
                            ",",
                            SqlWords.parts(child).stream()
                                    .map(part -> SqlWords.shown(part.get(0).name()))
                                    .toList());
            boolean isChild =
                    on.equals(table) && column.map(wanted -> has(child, wanted)).orElse(true);
            boolean isParent = parentTable.equals(table)
                    && column.map(wanted -> has(parent, wanted)).orElse(true);
            if (isChild) {
                own.add(0, SchemaObject.apart(Kind.FOREIGN_KEY, name, again, removal, again));
            } else if (isParent) {
                foreign.add(SchemaObject.inTheWay(
                        on.equals(table) ? Kind.FOREIGN_KEY : Kind.LINK_FROM_ELSEWHERE,
                        name,
                        again,
                        List.of(removal),
                        List.of(again)));
            }
        }

        private static boolean has(List<Word> columns, String wanted) {
            return columns.stream().anyMatch(word -> word.text().equals(wanted));
        }

        private SchemaObject own(String rule, String name, String removal, String again) {
            boolean isTable = column.isEmpty();
            if (rule.startsWith("PRIMARY KEY")) {
                return isTable
                        ? SchemaObject.with(Kind.PRIMARY_KEY, name, again, again)
                        : SchemaObject.forbidding(
                                Kind.PRIMARY_KEY,
                                name,
                                again,
                                "A column of the primary key can't retire; retire the table, or give it another key first.");
            }
            Kind kind = rule.startsWith("UNIQUE") ? Kind.UNIQUE_KEY : Kind.CHECK;
            return isTable
                    ? SchemaObject.with(kind, name, again, again)
                    : SchemaObject.apart(kind, name, again, removal, again);
        }

        private List<SchemaObject> triggers() {
            List<SchemaObject> triggers = new ArrayList<>();
            for (String statement : script) {
                Matcher trigger = TRIGGER.matcher(statement);
                if (column.isEmpty() && trigger.matches() && trigger.group(2).equals(table)) {
                    triggers.add(SchemaObject.apart(
                            Kind.TRIGGER,
                            shown(trigger.group(1)),
                            statement,
                            "drop trigger " + trigger.group(1),
                            statement));
                }
            }
            return triggers;
        }

        private List<SchemaObject> rest() {
            List<SchemaObject> rest = new ArrayList<>();
            for (String statement : script) {
                Matcher index = INDEX.matcher(statement);
                Matcher grant = GRANT.matcher(statement);
                if (index.matches()
                        && index.group(2).equals(table)
                        && column.map(statement.substring(index.end(2))::contains)
                                .orElse(true)) {
                    rest.add(SchemaObject.with(Kind.INDEX, shown(index.group(1)), statement, statement));
                } else if (column.isEmpty() && grant.matches() && grant.group(1).equals(table)) {
                    rest.add(SchemaObject.with(
                            Kind.GRANT,
                            SqlWords.shown(SqlWords.of(grant.group(2)).get(0).name()),
                            statement,
                            statement));
                }
            }
            return rest;
        }
    }
}
