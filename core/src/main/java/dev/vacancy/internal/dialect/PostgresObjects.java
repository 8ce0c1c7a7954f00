package dev.vacancy.internal.dialect;

import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.Dependent.Kind;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** What PostgreSQL's catalogs tell of one table or column. */
final class PostgresObjects {
    private static final String NAME = "quote_ident(n.nspname) || '.' || quote_ident(c.relname)";

    private final Naming names;
    private final CatalogQuery ask;
    private final Retiree retiree;
    private final String oid;
    private final String attribute;
    private final String table;

    PostgresObjects(Naming names, Connection connection, Retiree retiree) throws SQLException {
        this.names = names;
        this.ask = new CatalogQuery(connection);
        this.retiree = retiree;
        this.table = names.name(retiree.schema(), retiree.table());
        this.oid = ask.texts("select ?::regclass::oid", table).get(0);
        this.attribute = retiree.column().isEmpty()
                ? "0"
                : ask.texts(
                                "select attnum from pg_attribute where attrelid = ?::oid and attname = ?",
                                oid,
                                retiree.column().get())
                        .get(0);
    }

    String oid() {
        return oid;
    }

    String attribute() {
        return attribute;
    }

    String table() {
        return table;
    }

    private boolean isColumn() {
        return retiree.column().isPresent();
    }

    /** Views on it, and views on these, the last one first. */
    List<SchemaObject> views() throws SQLException {
        List<SchemaObject> views = new ArrayList<>();
        for (List<String> view : ask.rows(
                "with recursive reading(oid, depth) as (select distinct r.ev_class, 1 from pg_depend d join pg_rewrite r on r.oid = d.objid"
                        + " where d.classid = 'pg_rewrite'::regclass and d.refclassid = 'pg_class'::regclass and d.refobjid = ?::oid"
                        + " and (?::int = 0 or d.refobjsubid = ?::int) and r.ev_class <> ?::oid"
                        + " union select r.ev_class, g.depth + 1 from reading g join pg_depend d on d.refobjid = g.oid and d.refclassid = 'pg_class'::regclass"
                        + " and d.classid = 'pg_rewrite'::regclass join pg_rewrite r on r.oid = d.objid where r.ev_class <> g.oid)"
                        + " select c.oid, " + NAME
                        + ", c.relkind, pg_get_viewdef(c.oid), array_to_string(c.reloptions, ', '), c.relname, max(g.depth)"
                        + " from reading g join pg_class c on c.oid = g.oid join pg_namespace n on n.oid = c.relnamespace"
                        + " where c.relkind in ('v', 'm') group by c.oid, n.nspname order by max(g.depth) desc, c.relname",
                oid,
                attribute,
                attribute,
                oid)) {
            boolean kept = view.get(2).equals("m");
            String kind = kept ? "materialized view " : "view ";
            String options = view.get(4) == null ? "" : " with (" + view.get(4) + ")";
            String made = "create " + kind + view.get(1) + options + " as "
                    + view.get(3).strip().replaceAll(";$", "");
            List<String> again = new ArrayList<>(List.of(made));
            again.addAll(
                    ask.texts("select pg_get_indexdef(indexrelid) from pg_index where indrelid = ?::oid", view.get(0)));
            again.addAll(ask.texts(
                    "select pg_get_triggerdef(oid) from pg_trigger where tgrelid = ?::oid and not tgisinternal",
                    view.get(0)));
            again.addAll(ask.texts(
                    "select pg_get_ruledef(oid) from pg_rewrite where ev_class = ?::oid and rulename <> '_RETURN'",
                    view.get(0)));
            again.addAll(comment("pg_class", view.get(0), kind + view.get(1)));
            again.addAll(columnsOf(view.get(0), view.get(1), kept));
            again.addAll(grantsOf(view.get(0), view.get(1)));
            again.addAll(columnGrantsOf(view.get(0), view.get(1)));
            again.addAll(ask.texts(
                    "select 'alter ' || ? || ? || ' owner to ' || quote_ident(pg_get_userbyid(relowner)) from pg_class"
                            + " where oid = ?::oid and pg_get_userbyid(relowner) <> current_user",
                    kind,
                    view.get(1),
                    view.get(0)));
            views.add(SchemaObject.inTheWay(
                    Kind.VIEW, view.get(5), made, List.of("drop " + kind + view.get(1) + " restrict"), again));
        }
        return views;
    }

    /** What somebody has said of a thing, said again. */
    private List<String> comment(String catalog, String of, String target) throws SQLException {
        return ask.texts("select obj_description(?::oid, ?)", of, catalog).stream()
                .filter(Objects::nonNull)
                .map(said -> "comment on " + target + " is " + PostgresText.literal(said))
                .toList();
    }

    /** Defaults of a view's columns, and what somebody has said of them. */
    private List<String> columnsOf(String view, String name, boolean kept) throws SQLException {
        List<String> columns = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select quote_ident(a.attname), pg_get_expr(d.adbin, d.adrelid), col_description(a.attrelid, a.attnum) from pg_attribute a"
                        + " left join pg_attrdef d on d.adrelid = a.attrelid and d.adnum = a.attnum where a.attrelid = ?::oid and a.attnum > 0 and not a.attisdropped",
                view)) {
            if (row.get(1) != null && !kept) {
                columns.add("alter view " + name + " alter column " + row.get(0) + " set default " + row.get(1));
            }
            if (row.get(2) != null) {
                columns.add("comment on column " + name + "." + row.get(0) + " is " + PostgresText.literal(row.get(2)));
            }
        }
        return columns;
    }

    List<SchemaObject> linksFromElsewhere() throws SQLException {
        return links(
                "k.confrelid = ?::oid"
                        + (isColumn()
                                ? " and " + attribute + " = any(k.confkey) and not (k.conrelid = k.confrelid and "
                                        + attribute + " = any(k.conkey))"
                                : " and k.conrelid <> k.confrelid"),
                true);
    }

    List<SchemaObject> ownLinks() throws SQLException {
        return links("k.conrelid = ?::oid" + (isColumn() ? " and " + attribute + " = any(k.conkey)" : ""), false);
    }

    private List<SchemaObject> links(String condition, boolean inTheWay) throws SQLException {
        List<SchemaObject> links = new ArrayList<>();
        for (List<String> link : ask.rows(
                "select " + NAME + ", quote_ident(k.conname), pg_get_constraintdef(k.oid), c.relname,"
                        + " (select string_agg(a.attname, ',' order by p.place) from unnest(k.conkey) with ordinality as p(number, place)"
                        + " join pg_attribute a on a.attrelid = k.conrelid and a.attnum = p.number), k.conrelid = k.confrelid, k.oid"
                        + " from pg_constraint k join pg_class c on c.oid = k.conrelid join pg_namespace n on n.oid = c.relnamespace"
                        + " where k.contype = 'f' and k.conparentid = 0 and " + condition + " order by 1, 2",
                oid)) {
            String on = link.get(3) + "." + link.get(4);
            String removal = "alter table " + link.get(0) + " drop constraint " + link.get(1);
            String creation = "alter table " + link.get(0) + " add constraint " + link.get(1) + " " + link.get(2);
            Kind kind = inTheWay && link.get(5).equals("f") ? Kind.LINK_FROM_ELSEWHERE : Kind.FOREIGN_KEY;
            List<String> again = new ArrayList<>(List.of(creation));
            again.addAll(comment("pg_constraint", link.get(6), "constraint " + link.get(1) + " on " + link.get(0)));
            links.add(
                    inTheWay
                            ? SchemaObject.inTheWay(kind, on, creation, List.of(removal), again)
                            : SchemaObject.apart(kind, on, creation, removal, again));
        }
        return links;
    }

    /** Functions whose text names it, and those whose body the database has taken apart. */
    List<SchemaObject> routines() throws SQLException {
        List<SchemaObject> routines = new ArrayList<>();
        String dependent = "exists (select 1 from pg_depend d where d.classid = 'pg_proc'::regclass and d.objid = p.oid"
                + " and d.refclassid = 'pg_class'::regclass and d.refobjid = ?::oid and (?::int = 0 or d.refobjsubid in (0, ?::int)))";
        for (List<String> routine : ask.rows(
                "select p.oid::regprocedure, pg_get_functiondef(p.oid), " + dependent + ", p.proname"
                        + " from pg_proc p join pg_namespace n on n.oid = p.pronamespace join pg_language l on l.oid = p.prolang"
                        + " where n.nspname not in ('pg_catalog', 'information_schema') and p.prokind in ('f', 'p')"
                        + " and not exists (select 1 from pg_depend e where e.classid = 'pg_proc'::regclass and e.objid = p.oid and e.deptype = 'e')"
                        + " and (l.lanname in ('sql', 'plpgsql') or " + dependent + ") order by 1",
                oid,
                attribute,
                attribute,
                oid,
                attribute,
                attribute)) {
            String text = routine.get(1);
            if (routine.get(2).equals("t")) {
                routines.add(SchemaObject.forbidding(
                        Kind.ROUTINE,
                        routine.get(3),
                        text,
                        "Drop " + routine.get(0) + " first; it can't be without it."));
            } else if (isNamedIn(text) || isNamedInTrigger(routine.get(0), text)) {
                routines.add(SchemaObject.naming(Kind.ROUTINE, routine.get(3), text));
            }
        }
        return routines;
    }

    private boolean isNamedIn(String text) {
        return mentions(text, retiree.table())
                && retiree.column().map(column -> mentions(text, column)).orElse(true);
    }

    /** A function that a trigger of the table calls needn't name the table. */
    private boolean isNamedInTrigger(String routine, String text) throws SQLException {
        return isColumn()
                && mentions(text, retiree.column().orElseThrow())
                && !ask.texts(
                                "select 1 from pg_trigger where tgrelid = ?::oid and tgfoid = ?::regprocedure",
                                oid,
                                routine)
                        .isEmpty();
    }

    private static boolean mentions(String text, String name) {
        return Pattern.compile("(?<![\\w$])" + Pattern.quote(name) + "(?![\\w$])", Pattern.CASE_INSENSITIVE)
                .matcher(text)
                .find();
    }

    List<SchemaObject> triggers() throws SQLException {
        List<SchemaObject> triggers = new ArrayList<>();
        for (List<String> trigger : ask.rows(
                "select t.tgname, pg_get_triggerdef(t.oid), t.tgenabled, ?::int = any(t.tgattr::int[]),"
                        + " exists (select 1 from pg_depend d where d.classid = 'pg_trigger'::regclass and d.objid = t.oid and d.refobjid = t.tgrelid and d.refobjsubid = ?::int)"
                        + ", t.oid from pg_trigger t where t.tgrelid = ?::oid and not t.tgisinternal and t.tgparentid = 0 order by 1",
                attribute,
                attribute,
                oid)) {
            String name = names.quote(trigger.get(0));
            String removal = "drop trigger " + name + " on " + table;
            List<String> again = new ArrayList<>(List.of(trigger.get(1)));
            if (!trigger.get(2).equals("O")) {
                again.add(switched(trigger.get(2), name));
            }
            String definition = String.join("; ", again);
            again.addAll(comment("pg_trigger", trigger.get(5), "trigger " + name + " on " + table));
            if (!isColumn()) {
                triggers.add(new SchemaObject(
                        Kind.TRIGGER,
                        trigger.get(0),
                        Fate.KEPT_APART,
                        false,
                        definition,
                        List.of(removal),
                        again,
                        Optional.empty()));
            } else if (trigger.get(3).equals("t") || trigger.get(4).equals("t")) {
                triggers.add(SchemaObject.inTheWay(Kind.TRIGGER, trigger.get(0), definition, List.of(removal), again));
            }
        }
        return triggers;
    }

    private String switched(String state, String trigger) {
        return "alter table " + table
                + switch (state) {
                    case "D" -> " disable trigger ";
                    case "R" -> " enable replica trigger ";
                    case "A" -> " enable always trigger ";
                    default -> " enable trigger ";
                }
                + trigger;
    }

    /** Triggers that see changes of records, each with what keeps it still and lets it see them again. */
    List<SchemaObject> watching() throws SQLException {
        int updates = 16;
        return ask
                .rows(
                        "select tgname, pg_get_triggerdef(oid), tgenabled from pg_trigger where tgrelid = ?::oid and not tgisinternal"
                                + " and tgenabled <> 'D' and tgtype & ?::int <> 0 order by 1",
                        oid,
                        updates)
                .stream()
                .map(row -> SchemaObject.apart(
                        Kind.TRIGGER,
                        row.get(0),
                        row.get(1),
                        switched("D", names.quote(row.get(0))),
                        switched(row.get(2), names.quote(row.get(0)))))
                .toList();
    }

    /** Keys, checks and exclusions: of a table all stay with it, of a column those that would still say something of it are kept apart. */
    List<SchemaObject> constraints() throws SQLException {
        List<SchemaObject> constraints = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select k.contype, k.conname, pg_get_constraintdef(k.oid), i.indisreplident, i.indisclustered, k.oid from pg_constraint k left join pg_index i on i.indexrelid = k.conindid"
                        + " where k.conrelid = ?::oid and k.contype in ('p', 'u', 'c', 'x')"
                        + (isColumn() ? " and " + attribute + " = any(k.conkey)" : "")
                        + " order by k.contype <> 'p', k.conname",
                oid)) {
            String name = names.quote(row.get(1));
            String creation = "alter table " + table + " add constraint " + name + " " + row.get(2);
            String removal = "alter table " + table + " drop constraint " + name;
            Kind kind = switch (row.get(0)) {
                case "p" -> Kind.PRIMARY_KEY;
                case "u" -> Kind.UNIQUE_KEY;
                default -> Kind.CHECK;
            };
            List<String> again = marked(creation, row, name);
            again.addAll(comment("pg_constraint", row.get(5), "constraint " + name + " on " + table));
            if (!isColumn()) {
                constraints.add(SchemaObject.with(kind, row.get(1), creation, again));
            } else if (kind == Kind.PRIMARY_KEY) {
                constraints.add(SchemaObject.forbidding(
                        kind,
                        row.get(1),
                        creation,
                        "A column of the primary key can't retire; retire the table, or give it another key first."));
            } else {
                constraints.add(SchemaObject.apart(kind, row.get(1), creation, removal, again));
            }
        }
        return constraints;
    }

    private List<String> marked(String creation, List<String> row, String name) {
        List<String> statements = new ArrayList<>(List.of(creation));
        if ("t".equals(row.get(3))) {
            statements.add("alter table " + table + " replica identity using index " + name);
        }
        if ("t".equals(row.get(4))) {
            statements.add("alter table " + table + " cluster on " + name);
        }
        return statements;
    }

    /** Indexes that no constraint has made. */
    List<SchemaObject> indexes() throws SQLException {
        List<SchemaObject> indexes = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select c.relname, pg_get_indexdef(i.indexrelid), i.indisunique, quote_ident(n.nspname) || '.' || quote_ident(c.relname), i.indisreplident, i.indisclustered, c.oid"
                        + " from pg_index i join pg_class c on c.oid = i.indexrelid join pg_namespace n on n.oid = c.relnamespace where i.indrelid = ?::oid"
                        + " and not exists (select 1 from pg_constraint k where k.conindid = i.indexrelid and k.contype in ('p', 'u', 'x'))"
                        + (isColumn()
                                ? " and exists (select 1 from pg_depend d where d.classid = 'pg_class'::regclass and d.objid = i.indexrelid and d.refclassid = 'pg_class'::regclass and d.refobjid = i.indrelid and d.refobjsubid = "
                                        + attribute + ")"
                                : "")
                        + " order by 1",
                oid)) {
            boolean constrains = isColumn() && row.get(2).equals("t");
            List<String> again =
                    marked(row.get(1), List.of("", "", "", row.get(4), row.get(5)), names.quote(row.get(0)));
            again.addAll(comment("pg_class", row.get(6), "index " + row.get(3)));
            indexes.add(
                    constrains
                            ? SchemaObject.apart(Kind.INDEX, row.get(0), row.get(1), "drop index " + row.get(3), again)
                            : SchemaObject.with(Kind.INDEX, row.get(0), row.get(1), again));
        }
        return indexes;
    }

    List<SchemaObject> policies() throws SQLException {
        List<SchemaObject> policies = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select p.polname, p.polpermissive, p.polcmd, array_to_string(array(select case when r = 0 then 'public' else quote_ident(pg_get_userbyid(r)) end from unnest(p.polroles) r), ', '),"
                        + " pg_get_expr(p.polqual, p.polrelid), pg_get_expr(p.polwithcheck, p.polrelid), p.oid from pg_policy p where p.polrelid = ?::oid"
                        + (isColumn()
                                ? " and exists (select 1 from pg_depend d where d.classid = 'pg_policy'::regclass and d.objid = p.oid and d.refobjid = p.polrelid and d.refobjsubid = "
                                        + attribute + ")"
                                : "")
                        + " order by 1",
                oid)) {
            String name = names.quote(row.get(0));
            String creation = "create policy " + name + " on " + table
                    + (row.get(1).equals("t") ? "" : " as restrictive") + " for "
                    + switch (row.get(2)) {
                        case "r" -> "select";
                        case "a" -> "insert";
                        case "w" -> "update";
                        case "d" -> "delete";
                        default -> "all";
                    }
                    + " to " + row.get(3) + (row.get(4) == null ? "" : " using (" + row.get(4) + ")")
                    + (row.get(5) == null ? "" : " with check (" + row.get(5) + ")");
            policies.add(
                    isColumn()
                            ? SchemaObject.forbidding(
                                    Kind.POLICY,
                                    row.get(0),
                                    creation,
                                    "Change the policy so that it doesn't read the column first.")
                            : SchemaObject.with(
                                    Kind.POLICY,
                                    row.get(0),
                                    creation,
                                    andComment(creation, "pg_policy", row.get(6), "policy " + name + " on " + table)));
        }
        for (List<String> row : ask.rows(
                "select rulename, pg_get_ruledef(oid) from pg_rewrite where ev_class = ?::oid and rulename <> '_RETURN' order by 1",
                oid)) {
            if (!isColumn()) {
                policies.add(SchemaObject.with(Kind.POLICY, row.get(0), row.get(1), row.get(1)));
            } else if (mentions(row.get(1), retiree.column().orElseThrow())) {
                policies.add(SchemaObject.forbidding(
                        Kind.POLICY, row.get(0), row.get(1), "Drop the rule of rewriting first."));
            }
        }
        return policies;
    }

    private List<String> andComment(String creation, String catalog, String of, String target) throws SQLException {
        List<String> again = new ArrayList<>(List.of(creation));
        again.addAll(comment(catalog, of, target));
        return again;
    }

    List<SchemaObject> statistics() throws SQLException {
        List<SchemaObject> statistics = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select s.stxname, pg_get_statisticsobjdef(s.oid), s.oid, quote_ident(s.stxnamespace::regnamespace::text) || '.' || quote_ident(s.stxname)"
                        + " from pg_statistic_ext s where s.stxrelid = ?::oid"
                        + (isColumn() ? " and " + attribute + " = any(s.stxkeys)" : "") + " order by 1",
                oid)) {
            statistics.add(SchemaObject.with(
                    Kind.SETTING,
                    row.get(0),
                    inOrder(row.get(1)),
                    andComment(row.get(1), "pg_statistic_ext", row.get(2), "statistics " + row.get(3))));
        }
        return statistics;
    }

    /** Columns stand there in the order that they have in the table, which is another one once one has come back. */
    private static String inOrder(String statistics) {
        List<SqlWords.Word> words = SqlWords.of(statistics);
        int on = SqlWords.indexOf(words, "ON", 0);
        int from = SqlWords.indexOf(words, "FROM", on);
        String columns = SqlWords.parts(words.subList(on + 1, from)).stream()
                .map(part -> SqlWords.text(part).strip())
                .sorted()
                .collect(Collectors.joining(", "));
        return SqlWords.text(words.subList(0, on + 1)) + " " + columns
                + SqlWords.text(words.subList(from, words.size()));
    }

    /** Publications that it is named in; those of a whole schema, or of all tables, find it by themselves. */
    List<SchemaObject> publications() throws SQLException {
        List<SchemaObject> publications = new ArrayList<>();
        boolean selective = !ask.texts(
                        "select 1 from pg_attribute where attrelid = 'pg_publication_rel'::regclass and attname = 'prattrs'")
                .isEmpty();
        for (List<String> row : ask.rows(
                "select p.pubname, quote_ident(p.pubname), "
                        + (selective
                                ? "(select string_agg(quote_ident(a.attname), ', ' order by a.attnum) from pg_attribute a where a.attrelid = r.prrelid and a.attnum = any(r.prattrs::int[])),"
                                        + " pg_get_expr(r.prqual, r.prrelid), "
                                : "null, null, ")
                        + "exists (select 1 from pg_depend d where d.classid = 'pg_publication_rel'::regclass and d.objid = r.oid"
                        + " and d.refclassid = 'pg_class'::regclass and d.refobjid = r.prrelid and d.refobjsubid = ?::int)"
                        + " from pg_publication_rel r join pg_publication p on p.oid = r.prpubid where r.prrelid = ?::oid order by 1",
                attribute,
                oid)) {
            String creation = "alter publication " + row.get(1) + " add table " + table
                    + (row.get(2) == null ? "" : " (" + row.get(2) + ")")
                    + (row.get(3) == null ? "" : " where (" + row.get(3) + ")");
            if (!isColumn()) {
                publications.add(SchemaObject.with(Kind.SETTING, row.get(0), creation, creation));
            } else if (row.get(4).equals("t")) {
                publications.add(SchemaObject.forbidding(
                        Kind.SETTING, row.get(0), creation, "Take the column out of the publication first."));
            }
        }
        return publications;
    }

    /** What is made of the table as a type: columns of other tables, functions that take or give its rows. */
    List<SchemaObject> usesAsType() throws SQLException {
        return ask
                .rows(
                        "select distinct pg_describe_object(d.classid, d.objid, d.objsubid) from pg_depend d join pg_type t on d.refclassid = 'pg_type'::regclass"
                                + " and d.refobjid in (t.oid, t.typarray) where t.typrelid = ?::oid and d.deptype = 'n'"
                                + " and not (d.classid = 'pg_class'::regclass and d.objid = t.typrelid) order by 1",
                        oid)
                .stream()
                .map(row -> SchemaObject.forbidding(
                        Kind.SETTING,
                        row.get(0),
                        "uses its rows as a type",
                        "Change or drop it first; it can't be without the table."))
                .toList();
    }

    /** Rights that somebody has on the table, or on the column alone. */
    List<SchemaObject> grants() throws SQLException {
        List<SchemaObject> grants = new ArrayList<>();
        if (!isColumn()) {
            grantsOf(oid, table)
                    .forEach(grant -> grants.add(SchemaObject.with(Kind.GRANT, grantee(grant), grant, grant)));
        }
        columnGrantsOf(oid, table)
                .forEach(grant -> grants.add(SchemaObject.with(Kind.GRANT, grantee(grant), grant, grant)));
        return grants;
    }

    private List<String> columnGrantsOf(String relation, String name) throws SQLException {
        return ask.texts(
                "select 'grant ' || x.privilege_type || ' (' || quote_ident(a.attname) || ') on ' || ? || ' to ' || case when x.grantee = 0 then 'public' else quote_ident(pg_get_userbyid(x.grantee)) end"
                        + " || case when x.is_grantable then ' with grant option' else '' end from pg_attribute a, aclexplode(a.attacl) x"
                        + " where a.attrelid = ?::oid and a.attnum > 0"
                        + (isColumn() && relation.equals(oid) ? " and a.attnum = " + attribute : "") + " order by 1",
                name,
                relation);
    }

    private static String grantee(String grant) {
        String whole = grant.replace(" with grant option", "");
        return whole.substring(whole.lastIndexOf(" to ") + " to ".length());
    }

    private List<String> grantsOf(String relation, String name) throws SQLException {
        return ask.texts(
                "select 'grant ' || x.privilege_type || ' on ' || ? || ' to ' || case when x.grantee = 0 then 'public' else quote_ident(pg_get_userbyid(x.grantee)) end"
                        + " || case when x.is_grantable then ' with grant option' else '' end from pg_class c, aclexplode(c.relacl) x"
                        + " where c.oid = ?::oid and x.grantee <> c.relowner order by 1",
                name,
                relation);
    }

    List<SchemaObject> sequences() throws SQLException {
        List<SchemaObject> sequences = new ArrayList<>();
        for (List<String> row : ask.rows(
                "select c.relname from pg_depend d join pg_class c on c.oid = d.objid and c.relkind = 'S' where d.classid = 'pg_class'::regclass"
                        + " and d.refobjid = ?::oid and d.refclassid = 'pg_class'::regclass and d.deptype in ('a', 'i')"
                        + (isColumn() ? " and d.refobjsubid = " + attribute : "") + " order by 1",
                oid)) {
            sequences.add(SchemaObject.with(Kind.SEQUENCE, row.get(0), "gives its numbers"));
        }
        return sequences;
    }

    /** What belongs together with other tables can't be made again piece by piece. */
    List<SchemaObject> parts() throws SQLException {
        List<String> related = ask.texts(
                "select c.relname from pg_inherits i join pg_class c on c.oid = case when i.inhparent = ?::oid then i.inhrelid else i.inhparent end"
                        + " where ?::oid in (i.inhparent, i.inhrelid) order by 1",
                oid,
                oid);
        return related.stream()
                .map(name -> SchemaObject.forbidding(
                        Kind.PARTITION, name, "inherits", "Detach the parts and retire them one by one."))
                .toList();
    }

    /** What hangs on a column alone. */
    List<SchemaObject> ofColumn() throws SQLException {
        List<SchemaObject> objects = new ArrayList<>();
        String column = retiree.column().orElseThrow();
        for (List<String> row : ask.rows(
                "select a.attname, pg_get_expr(d.adbin, d.adrelid) from pg_attrdef d join pg_attribute a on a.attrelid = d.adrelid and a.attnum = d.adnum"
                        + " where d.adrelid = ?::oid and d.adnum <> ?::int and exists (select 1 from pg_depend p where p.classid = 'pg_attrdef'::regclass"
                        + " and p.objid = d.oid and p.refclassid = 'pg_class'::regclass and p.refobjid = d.adrelid and p.refobjsubid = ?::int)",
                oid,
                attribute,
                attribute)) {
            objects.add(SchemaObject.forbidding(
                    Kind.GENERATED_COLUMN, row.get(0), row.get(1), "Retire " + row.get(0) + " first."));
        }
        List<String> facts = ask.rows(
                        "select a.attnotnull, a.attidentity, pg_get_expr(d.adbin, d.adrelid), a.attgenerated,"
                                + " exists (select 1 from pg_partitioned_table p where p.partrelid = a.attrelid and a.attnum = any(p.partattrs::int[])),"
                                + " exists (select 1 from pg_inherits i where a.attrelid in (i.inhrelid, i.inhparent))"
                                + " from pg_attribute a left join pg_attrdef d on d.adrelid = a.attrelid and d.adnum = a.attnum"
                                + " where a.attrelid = ?::oid and a.attnum = ?::int",
                        oid,
                        attribute)
                .get(0);
        if (facts.get(4).equals("t") || facts.get(5).equals("t")) {
            objects.add(SchemaObject.forbidding(
                    Kind.PARTITION,
                    SqlWords.shown(retiree.table()),
                    "has parts",
                    "A column of a table that has parts, or is one, can't be retired by itself."));
        }
        if (!facts.get(1).isEmpty()) {
            objects.add(SchemaObject.forbidding(
                    Kind.SEQUENCE, column, "identity", "Retire the table, or drop the identity of the column first."));
        }
        if (facts.get(2) != null) {
            objects.add(SchemaObject.with(
                    facts.get(3).isEmpty() ? Kind.DEFAULT : Kind.GENERATED_COLUMN, column, facts.get(2)));
        } else if (facts.get(0).equals("t")) {
            String change = "alter table " + table + " alter column " + names.quote(column);
            objects.add(SchemaObject.apart(
                    Kind.NOT_NULL, column, "not null", change + " drop not null", change + " set not null"));
        }
        return objects;
    }
}
