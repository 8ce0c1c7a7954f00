package dev.vacancy.property;

import dev.vacancy.Criteria;
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
import java.util.stream.IntStream;

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
 * @param traits what else is odd about it
 * @param engine the database that it is for
 */
record World(
        int tables,
        List<Boolean> composite,
        Set<Integer> keyless,
        Set<Integer> elsewhere,
        Schemas schemas,
        List<Link> links,
        List<TreeMap<Integer, List<Integer>>> records,
        Traits traits,
        Engine engine) {
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
     * @param owned whether the parent goes with its last child
     */
    record Link(
            int number,
            int child,
            int parent,
            boolean nullable,
            OnDelete onDelete,
            boolean declared,
            List<Case> cases,
            boolean owned) {
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
            return new Link(number, child, parent, nullable, other, declared, cases, owned);
        }
    }

    World with(List<TreeMap<Integer, List<Integer>>> others) {
        return new World(tables, composite, keyless, elsewhere, schemas, links, others, traits, engine);
    }

    /** The same as far as a database can have it. */
    World on(Engine other, Schemas names) {
        List<Link> possible = links.stream()
                .map(link -> other == Engine.MARIADB ? link.on(inMariaDb(link)) : link)
                .toList();
        return new World(tables, composite, keyless, elsewhere, names, possible, records, traits.on(other), other);
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
                .map(link -> new Link(
                        link.number, link.child, link.parent, link.nullable, link.onDelete, true, List.of(), false))
                .toList();
        return new World(tables, composite, keyless, elsewhere, schemas, plain, records, traits, engine);
    }

    List<Link> linksOf(int child) {
        return links.stream().filter(link -> link.child() == child).toList();
    }

    /** The rules as an application gives them. */
    RuleBook rules() {
        RuleBook book =
                RuleBook.bySchema().schemas(schemas.other(), schemas.other().toUpperCase(Locale.ROOT));
        for (Link link : links) {
            String columns = String.join(", ", columns(link));
            String where = name(link.child) + "." + (isPair(link) ? "(" + columns + ")" : columns);
            book = link.declared ? book : book.link(where, name(link.parent) + (isToCode(link) ? ".code" : ""));
            Clause[] clauses =
                    link.cases.stream().map(rule -> clause(link, rule)).toArray(Clause[]::new);
            book = clauses.length == 0 ? book : book.on(where, clauses);
            book = link.owned ? book.ownedParents(where) : book;
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
                isPair(link)
                        ? Clause.reassign(traits.keyType().text(rule.newParent), rule.newParent * 10)
                        : Clause.reassign(traits.keyType().text(rule.newParent));
        };
        return rule.most.map(most -> clause.where(upTo(most, "id"))).orElse(clause);
    }

    /** Picks the records up to a number. */
    Criteria upTo(int most, String column) {
        return traits.keyType() == KeyType.INT
                ? Criteria.parse(
                        column.contains(" ")
                                ? '"' + column.replace(".", "\".\"") + "\" <= " + most
                                : column + " <= " + most)
                : Criteria.column(column)
                        .oneOf(IntStream.rangeClosed(0, most)
                                .mapToObj(traits.keyType()::text)
                                .toList());
    }

    /** The statements that make this database in the current schema. */
    List<String> script() {
        List<String> script = new ArrayList<>();
        for (int table = 0; table < tables; table++) {
            script.addAll(create(table));
        }
        for (int table = 0; table < tables; table++) {
            String into = "insert into " + inSql(table) + " (" + String.join(", ", columnsOf(table)) + ") values (";
            for (Map.Entry<Integer, List<Integer>> row : records.get(table).entrySet()) {
                script.add(into + String.join(", ", values(table, row, true)) + ")");
            }
        }
        for (Link link : links) {
            if (link.declared) {
                script.add("alter table " + inSql(link.child()) + " add constraint fk_" + link.number + " foreign key ("
                        + inSql(columns(link)) + ") references "
                        + wholeName(link.parent()) + " (" + (isToCode(link) ? "code" : key(link.parent()))
                        + ") on delete "
                        + link.onDelete.name().replace('_', ' ')
                        + (engine == Engine.POSTGRESQL && link.number % 3 == 0 ? " deferrable" : ""));
            }
        }
        Traits possible = traits.on(engine);
        possible.refusal()
                .flatMap(refusal -> possible.trigger(
                        engine, inSql(refusal.table()), isElsewhere(refusal.table()) ? schemas.other() + "." : ""))
                .ifPresent(trigger -> script.addAll(List.of(trigger)));
        return script;
    }

    private List<String> create(int table) {
        StringBuilder columns = new StringBuilder();
        if (traits.generated().contains(table)) {
            boolean stored = engine == Engine.POSTGRESQL || engine == Engine.MARIADB;
            columns.append("made int generated always as (7)").append(stored ? " stored, " : ", ");
        }
        columns.append("id ").append(traits.keyType().sql(engine)).append(composite.get(table) ? ", pair int" : "");
        columns.append(hasCode(table) ? ", code int not null unique" : "");
        for (Link link : linksOf(table)) {
            columns.append(definition(link));
        }
        String key = keyless.contains(table) ? "" : ", primary key (" + key(table) + ")";
        boolean partitioned = traits.partitioned().contains(table) && !hasCode(table);
        List<String> script = new ArrayList<>();
        script.add("create table " + inSql(table) + " (" + columns + key + ")"
                + (partitioned ? " partition by hash (id)" : ""));
        for (int part = 0; partitioned && part < 2; part++) {
            script.add("create table " + schema(table) + "part_" + table + "_" + part + " partition of " + inSql(table)
                    + " for values with (modulus 2, remainder " + part + ")");
        }
        return script;
    }

    private List<String> columnsOf(int table) {
        List<String> columns = new ArrayList<>(List.of("id"));
        if (composite.get(table)) {
            columns.add("pair");
        }
        if (hasCode(table)) {
            columns.add("code");
        }
        linksOf(table).forEach(link -> columns(link).forEach(column -> columns.add(inSql(List.of(column)))));
        return columns;
    }

    /** Counts the children of each link that point at nobody. */
    List<String> orphanQueries() {
        return links.stream()
                .filter(link -> link.cases.stream().noneMatch(rule -> rule.action == Action.KEEP))
                .map(link -> {
                    String column = "child." + inSql(columns(link).subList(0, 1));
                    return "select count(*) from " + inSql(link.child) + " child where " + column
                            + " is not null and not exists (select 1 from " + inSql(link.parent)
                            + " mother where mother." + (isToCode(link) ? "code" : "id") + " = " + column + ")";
                })
                .toList();
    }

    /** The contents as a query on each table in the order of the keys would give them. */
    List<String> contents() {
        List<String> contents = new ArrayList<>();
        for (int table = 0; table < tables; table++) {
            int number = table;
            List<String> rows = records.get(table).entrySet().stream()
                    .map(row -> (traits.generated().contains(number) ? "7|" : "")
                            + String.join("|", values(number, row, false)))
                    .sorted()
                    .toList();
            contents.add(inSql(table) + ": " + rows);
        }
        return contents;
    }

    String[] tableNames() {
        String[] names = new String[tables];
        for (int table = 0; table < tables; table++) {
            names[table] = inSql(table);
        }
        return names;
    }

    /** What a table is called, with its schema in front where that is the other one. */
    String name(int table) {
        return isElsewhere(table) ? schemas.other() + "." + bareName(table) : bareName(table);
    }

    /** What a table is called in a statement. */
    String inSql(int table) {
        return schema(table) + traits.naming().inSql(bareName(table), engine);
    }

    private String schema(int table) {
        return isElsewhere(table) ? schemas.other() + "." : "";
    }

    private String inSql(List<String> columns) {
        return columns.stream()
                .map(column -> traits.naming().inSql(column, engine))
                .collect(Collectors.joining(", "));
    }

    private String wholeName(int table) {
        return isElsewhere(table) || schemas.own().isEmpty() ? inSql(table) : schemas.own() + "." + inSql(table);
    }

    private String bareName(int table) {
        return traits.naming().table(table, engine);
    }

    private boolean isElsewhere(int table) {
        return elsewhere.contains(table) && !schemas.other().isEmpty();
    }

    /** A key as a selection takes it. */
    Object keyOf(int table, int id) {
        String key = traits.keyType().text(id);
        return composite.get(table) ? List.of(key, id * 10) : key;
    }

    private List<String> values(int table, Map.Entry<Integer, List<Integer>> row, boolean literal) {
        List<String> values = new ArrayList<>();
        values.add(key(row.getKey(), literal));
        if (composite.get(table)) {
            values.add(String.valueOf(row.getKey() * 10));
        }
        if (hasCode(table)) {
            values.add(String.valueOf(row.getKey() * 100));
        }
        List<Link> links = linksOf(table);
        for (int i = 0; i < links.size(); i++) {
            Integer value = row.getValue().get(i);
            if (value != null && isToCode(links.get(i))) {
                values.add(String.valueOf(value * 100));
            } else {
                values.add(value == null ? "null" : key(value, literal));
            }
            if (isPair(links.get(i))) {
                values.add(value == null ? "null" : String.valueOf(value * 10));
            }
        }
        return values;
    }

    private String key(int number, boolean literal) {
        return literal ? traits.keyType().literal(number) : traits.keyType().text(number);
    }

    private String definition(Link link) {
        List<String> defaults =
                isToCode(link) ? List.of("100") : List.of(traits.keyType().literal(1), "10");
        List<String> names = columns(link);
        StringBuilder definition = new StringBuilder();
        for (int i = 0; i < names.size(); i++) {
            definition
                    .append(", ")
                    .append(inSql(names.subList(i, i + 1)))
                    .append(
                            isToCode(link) || i > 0
                                    ? " int"
                                    : " " + traits.keyType().sql(engine))
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

    /** The columns of a foreign key, as people call them. */
    List<String> columns(Link link) {
        String first = traits.naming().column("f" + link.number);
        return isPair(link) ? List.of(first, traits.naming().column("g" + link.number)) : List.of(first);
    }

    @Override
    public String toString() {
        return script().stream().collect(Collectors.joining(";\n", "\n", ";\n")) + "rules " + links;
    }
}
