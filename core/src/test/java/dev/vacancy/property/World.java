package dev.vacancy.property;

import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Engine;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * A small made-up database, as values: tables {@code t0}, {@code t1}, … with a key {@code id}, which in some tables has
 * a second column {@code pair} that is always ten times the first, and one or two columns for each link. Where a link
 * points to a unique key that is not the primary key, that is a column {@code code}, always a hundred times the key.
 * Where a foreign key has a default, it names the first parent.
 *
 * @param tables how many tables there are
 * @param composite the tables whose key has two columns
 * @param keyless the tables without a primary key, to which nothing links
 * @param elsewhere the tables that stand in the other schema
 * @param schemas what the schemas are called
 * @param links the foreign keys
 * @param records for each table its records, by key; each has a value for each link of the table, in the links' order
 * @param hostile whether the tables have names that statements of ours use themselves
 */
record World(
        int tables,
        List<Boolean> composite,
        Set<Integer> keyless,
        Set<Integer> elsewhere,
        Schemas schemas,
        List<Link> links,
        List<TreeMap<Integer, List<Integer>>> records,
        boolean hostile) {
    /** Names of tables that statements of ours could take for their own. */
    private static final List<String> HOSTILE_NAMES =
            List.of("parent", "k", "p", "f", "vacancy_found", "json_each", "c0", "t1");

    /**
     * What the schemas are called.
     *
     * @param own the schema that a name without one means
     * @param other the other one; both are empty where a database has none
     */
    record Schemas(String own, String other) {
        static final Schemas NONE = new Schemas("", "");
    }

    /** What the schema says of the children. */
    enum OnDelete {
        CASCADE,
        SET_NULL,
        SET_DEFAULT,
        NO_ACTION
    }

    /** What a clause of the rules says of them. */
    enum Action {
        CASCADE,
        BLOCK,
        DETACH,
        RESET,
        REASSIGN,
        KEEP
    }

    /**
     * A clause of a rule.
     *
     * @param most it applies to children with at most this key, or to all
     * @param newParent the key of the parent that takes over, for that action
     */
    record Case(Optional<Integer> most, Action action, int newParent) {
        boolean appliesTo(int id) {
            return most.isEmpty() || id <= most.get();
        }
    }

    /**
     * A foreign key.
     *
     * @param number tells it from the others; its column is {@code f} and that number
     * @param declared whether the database knows of it
     * @param cases the clauses that the application gives, none for what the schema says
     */
    record Link(
            int number,
            int child,
            int parent,
            boolean nullable,
            OnDelete onDelete,
            boolean declared,
            List<Case> cases) {
        /** What becomes of a child. */
        Case caseOf(int id) {
            return cases.stream().filter(rule -> rule.appliesTo(id)).findFirst().orElseGet(this::bySchema);
        }

        private Case bySchema() {
            Action action = switch (onDelete) {
                case CASCADE -> Action.CASCADE;
                case SET_NULL -> nullable ? Action.DETACH : Action.BLOCK;
                case SET_DEFAULT -> Action.RESET;
                case NO_ACTION -> Action.BLOCK;
            };
            return new Case(Optional.empty(), action, 0);
        }

        boolean hasDefault() {
            return onDelete == OnDelete.SET_DEFAULT && number % 3 > 0;
        }

        private Link on(OnDelete other) {
            return new Link(number, child, parent, nullable, other, declared, cases);
        }
    }

    World with(List<TreeMap<Integer, List<Integer>>> others) {
        return new World(tables, composite, keyless, elsewhere, schemas, links, others, hostile);
    }

    /** The same as far as a database can have it. */
    World on(Engine engine, Schemas names) {
        List<Link> possible = links.stream()
                .map(link -> engine == Engine.MARIADB ? link.on(inMariaDb(link)) : link)
                .toList();
        return new World(tables, composite, keyless, elsewhere, names, possible, records, hostile);
    }

    /** MariaDB has no SET DEFAULT, and no SET NULL for columns that may not be null. */
    private static OnDelete inMariaDb(Link link) {
        boolean impossible =
                link.onDelete == OnDelete.SET_DEFAULT || (link.onDelete == OnDelete.SET_NULL && !link.nullable);
        return impossible ? OnDelete.NO_ACTION : link.onDelete;
    }

    /** The same with the schema's own rules only. */
    World bySchema() {
        List<Link> plain = links.stream()
                .map(link ->
                        new Link(link.number, link.child, link.parent, link.nullable, link.onDelete, true, List.of()))
                .toList();
        return new World(tables, composite, keyless, elsewhere, schemas, plain, records, hostile);
    }

    List<Link> linksOf(int child) {
        return links.stream().filter(link -> link.child() == child).toList();
    }

    /** The rules as an application gives them. */
    RuleBook rules() {
        RuleBook book =
                RuleBook.bySchema().schemas(schemas.other(), schemas.other().toUpperCase(Locale.ROOT));
        for (Link link : links) {
            String where = name(link.child) + "." + (isPair(link) ? "(" + columns(link) + ")" : columns(link));
            book = link.declared ? book : book.link(where, name(link.parent) + (isToCode(link) ? ".code" : ""));
            Clause[] clauses =
                    link.cases.stream().map(rule -> clause(link, rule)).toArray(Clause[]::new);
            book = clauses.length == 0 ? book : book.on(where, clauses);
        }
        return book;
    }

    private Clause clause(Link link, Case rule) {
        Clause clause = switch (rule.action) {
            case CASCADE -> Clause.cascade();
            case BLOCK -> Clause.block("it says so");
            case DETACH -> Clause.detach();
            case KEEP -> Clause.keep();
            case RESET -> throw new IllegalStateException("only a schema says so");
            case REASSIGN ->
                isPair(link) ? Clause.reassign(rule.newParent, rule.newParent * 10) : Clause.reassign(rule.newParent);
        };
        return rule.most.map(most -> clause.when("id <= " + most)).orElse(clause);
    }

    /** The statements that make this database in the current schema. */
    List<String> script(Engine engine) {
        List<String> script = new ArrayList<>();
        for (int table = 0; table < tables; table++) {
            StringBuilder columns = new StringBuilder(composite.get(table) ? "id int, pair int" : "id int");
            columns.append(hasCode(table) ? ", code int not null unique" : "");
            for (Link link : linksOf(table)) {
                columns.append(definition(link));
            }
            String key = keyless.contains(table) ? "" : ", primary key (" + key(table) + ")";
            script.add("create table " + name(table) + " (" + columns + key + ")");
        }
        for (int table = 0; table < tables; table++) {
            for (Map.Entry<Integer, List<Integer>> row : records.get(table).entrySet()) {
                script.add("insert into " + name(table) + " values (" + String.join(", ", values(table, row)) + ")");
            }
        }
        for (Link link : links) {
            if (link.declared) {
                script.add("alter table " + name(link.child()) + " add foreign key (" + columns(link) + ") references "
                        + wholeName(link.parent()) + " (" + (isToCode(link) ? "code" : key(link.parent()))
                        + ") on delete "
                        + link.onDelete.name().replace('_', ' ')
                        + (engine == Engine.POSTGRESQL && link.number % 3 == 0 ? " deferrable" : ""));
            }
        }
        return script;
    }

    /** Counts the children of each link that point at nobody. */
    List<String> orphanQueries() {
        return links.stream()
                .filter(link -> link.cases.stream().noneMatch(rule -> rule.action == Action.KEEP))
                .map(link -> "select count(*) from " + name(link.child) + " child where child.f" + link.number
                        + " is not null and not exists (select 1 from " + name(link.parent) + " mother where mother."
                        + (isToCode(link) ? "code" : "id") + " = child.f" + link.number + ")")
                .toList();
    }

    /** The contents as a query on each table in the order of the keys would give them. */
    List<String> contents() {
        List<String> contents = new ArrayList<>();
        for (int table = 0; table < tables; table++) {
            int number = table;
            List<String> rows = records.get(table).entrySet().stream()
                    .map(row -> String.join("|", values(number, row)))
                    .sorted()
                    .toList();
            contents.add(name(table) + ": " + rows);
        }
        return contents;
    }

    String[] tableNames() {
        String[] names = new String[tables];
        for (int table = 0; table < tables; table++) {
            names[table] = name(table);
        }
        return names;
    }

    /** What a table is called, with its schema in front where that is the other one. */
    String name(int table) {
        return isElsewhere(table) ? schemas.other() + "." + bareName(table) : bareName(table);
    }

    private String wholeName(int table) {
        return isElsewhere(table) || schemas.own().isEmpty() ? name(table) : schemas.own() + "." + bareName(table);
    }

    private String bareName(int table) {
        return hostile ? HOSTILE_NAMES.get(table) : "t" + table;
    }

    private boolean isElsewhere(int table) {
        return elsewhere.contains(table) && !schemas.other().isEmpty();
    }

    /** A key as a selection takes it. */
    Object keyOf(int table, int id) {
        return composite.get(table) ? List.of(id, id * 10) : id;
    }

    private List<String> values(int table, Map.Entry<Integer, List<Integer>> row) {
        List<String> values = new ArrayList<>();
        values.add(String.valueOf(row.getKey()));
        if (composite.get(table)) {
            values.add(String.valueOf(row.getKey() * 10));
        }
        if (hasCode(table)) {
            values.add(String.valueOf(row.getKey() * 100));
        }
        List<Link> links = linksOf(table);
        for (int i = 0; i < links.size(); i++) {
            Integer value = row.getValue().get(i);
            values.add(String.valueOf(value != null && isToCode(links.get(i)) ? Integer.valueOf(value * 100) : value));
            if (isPair(links.get(i))) {
                values.add(value == null ? "null" : String.valueOf(value * 10));
            }
        }
        return values;
    }

    private String definition(Link link) {
        List<Integer> defaults = isToCode(link) ? List.of(100) : List.of(1, 10);
        String[] names = columns(link).split(", ", -1);
        StringBuilder definition = new StringBuilder();
        for (int i = 0; i < names.length; i++) {
            definition
                    .append(", ")
                    .append(names[i])
                    .append(" int")
                    .append(
                            link.onDelete() == OnDelete.SET_DEFAULT
                                    ? " default " + (link.hasDefault() ? defaults.get(i) : "null")
                                    : "")
                    .append(link.nullable() ? "" : " not null");
        }
        return definition.toString();
    }

    boolean isPair(Link link) {
        return composite.get(link.parent());
    }

    private boolean isToCode(Link link) {
        return link.number % 4 == 1 && !isPair(link);
    }

    private boolean hasCode(int table) {
        return links.stream().anyMatch(link -> link.parent == table && isToCode(link));
    }

    private String key(int table) {
        return composite.get(table) ? "id, pair" : "id";
    }

    private String columns(Link link) {
        return "f" + link.number + (isPair(link) ? ", g" + link.number : "");
    }

    @Override
    public String toString() {
        return script(Engine.H2).stream().collect(Collectors.joining(";\n", "\n", ";\n")) + "rules " + links;
    }
}
