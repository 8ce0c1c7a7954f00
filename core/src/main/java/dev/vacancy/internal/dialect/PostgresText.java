package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** What makes tables and columns of PostgreSQL again, which it doesn't say by itself. */
final class PostgresText {
    private static final String COLUMNS = "select quote_ident(a.attname), format_type(a.atttypid, a.atttypmod),"
            + " case when a.attcollation <> t.typcollation then (select quote_ident(n.nspname) || '.' || quote_ident(l.collname)"
            + " from pg_collation l join pg_namespace n on n.oid = l.collnamespace where l.oid = a.attcollation) end,"
            + " pg_get_expr(d.adbin, d.adrelid), a.attgenerated, a.attidentity, a.attnotnull,"
            + " col_description(a.attrelid, a.attnum), a.attstorage <> t.typstorage, a.attstorage, a.attcompression, a.attnum,"
            + " case when a.attstattarget >= 0 then a.attstattarget end, array_to_string(a.attoptions, ', ')"
            + " from pg_attribute a join pg_type t on t.oid = a.atttypid"
            + " left join pg_attrdef d on d.adrelid = a.attrelid and d.adnum = a.attnum"
            + " where a.attrelid = ?::oid and a.attnum > 0 and not a.attisdropped";

    private final Naming names;
    private final CatalogQuery ask;

    PostgresText(Naming names, Connection connection) {
        this.names = names;
        this.ask = new CatalogQuery(connection);
    }

    static String literal(String text) {
        // Whatever standard_conforming_strings says, this form means the same.
        return "E'" + text.replace("\\", "\\\\").replace("'", "''") + "'";
    }

    /** Makes the table, with what its columns need, and nothing else. */
    List<String> table(String oid, String table) throws SQLException {
        List<String> made = new ArrayList<>(sequences(oid, null));
        List<String> parts = new ArrayList<>();
        for (List<String> column : ask.rows(COLUMNS + " order by a.attnum", oid)) {
            parts.add(definition(column, identity(oid, column.get(11)), true));
        }
        List<String> facts = ask.rows(
                        "select case relpersistence when 'u' then 'unlogged ' else '' end, array_to_string(reloptions, ', '),"
                                + " (select spcname from pg_tablespace s where s.oid = c.reltablespace) from pg_class c where oid = ?::oid",
                        oid)
                .get(0);
        made.add("create " + facts.get(0) + "table " + table + " (" + String.join(", ", parts) + ")"
                + (facts.get(1) == null ? "" : " with (" + facts.get(1) + ")")
                + (facts.get(2) == null ? "" : " tablespace " + names.quote(facts.get(2))));
        made.addAll(owned(oid, table, null));
        made.addAll(remarks(oid, table, null));
        return made;
    }

    /** What counts on is set to where it was; who owns the table, and what is switched on. */
    List<String> afterFilling(String oid, String table) throws SQLException {
        List<String> end = new ArrayList<>();
        List<String> facts = ask.rows(
                        "select relrowsecurity, relforcerowsecurity, relreplident, pg_get_userbyid(relowner), pg_get_userbyid(relowner) = current_user"
                                + " from pg_class where oid = ?::oid",
                        oid)
                .get(0);
        if (facts.get(0).equals("t")) {
            end.add("alter table " + table + " enable row level security");
        }
        if (facts.get(1).equals("t")) {
            end.add("alter table " + table + " force row level security");
        }
        if (facts.get(2).equals("f")) {
            end.add("alter table " + table + " replica identity full");
        } else if (facts.get(2).equals("n")) {
            end.add("alter table " + table + " replica identity nothing");
        }
        if (facts.get(4).equals("f")) {
            end.add("alter table " + table + " owner to " + names.quote(facts.get(3)));
        }
        return end;
    }

    /** Makes a column at the end of its table. */
    List<String> column(String oid, String table, String attribute) throws SQLException {
        List<String> column =
                ask.rows(COLUMNS + " and a.attnum = ?::int", oid, attribute).get(0);
        List<String> made = new ArrayList<>(sequences(oid, attribute));
        made.add("alter table " + table + " add column "
                + definition(column, identity(oid, attribute), column.get(3) != null));
        made.addAll(owned(oid, table, attribute));
        made.addAll(remarks(oid, table, attribute));
        return made;
    }

    /** The sequence of an identity, with its name and all that it counts by. */
    private String identity(String oid, String attribute) throws SQLException {
        return sequencesOf(oid, attribute).stream()
                .filter(row -> row.get(8).equals("i"))
                .map(row -> " as identity (sequence name " + row.get(0) + counting(row) + ")")
                .findFirst()
                .orElse("");
    }

    private static String definition(List<String> column, String sequence, boolean whole) {
        String generated = column.get(4);
        String identity = column.get(5);
        String expression = column.get(3);
        return column.get(0) + " " + column.get(1)
                + (column.get(2) == null ? "" : " collate " + column.get(2))
                + (generated.equals("s") ? " generated always as (" + expression + ") stored" : "")
                + (generated.equals("v") ? " generated always as (" + expression + ") virtual" : "")
                + (generated.isEmpty() && expression != null ? " default " + expression : "")
                + (identity.equals("a") ? " generated always" + sequence : "")
                + (identity.equals("d") ? " generated by default" + sequence : "")
                + (whole && column.get(6).equals("t") ? " not null" : "");
    }

    private List<String> remarks(String oid, String table, String attribute) throws SQLException {
        List<String> remarks = new ArrayList<>();
        for (List<String> column : ask.rows(COLUMNS + " order by a.attnum", oid)) {
            if (attribute == null || column.get(11).equals(attribute)) {
                if (column.get(7) != null) {
                    remarks.add("comment on column " + table + "." + column.get(0) + " is " + literal(column.get(7)));
                }
                if (column.get(8).equals("t")) {
                    remarks.add("alter table " + table + " alter column " + column.get(0) + " set storage "
                            + storage(column.get(9)));
                }
                if (!column.get(10).isEmpty()) {
                    remarks.add("alter table " + table + " alter column " + column.get(0) + " set compression "
                            + (column.get(10).equals("l") ? "lz4" : "pglz"));
                }
                if (column.get(12) != null) {
                    remarks.add("alter table " + table + " alter column " + column.get(0) + " set statistics "
                            + column.get(12));
                }
                if (column.get(13) != null) {
                    remarks.add("alter table " + table + " alter column " + column.get(0) + " set (" + column.get(13)
                            + ")");
                }
            }
        }
        if (attribute == null) {
            ask.texts("select obj_description(?::oid, 'pg_class')", oid).stream()
                    .filter(comment -> comment != null)
                    .forEach(comment -> remarks.add("comment on table " + table + " is " + literal(comment)));
        }
        return remarks;
    }

    private static String storage(String code) {
        return switch (code) {
            case "p" -> "plain";
            case "e" -> "external";
            case "m" -> "main";
            default -> "extended";
        };
    }

    /** Sequences that belong to its columns, in the order of these; those of identities come with them. */
    private List<List<String>> sequencesOf(String oid, String attribute) throws SQLException {
        return ask
                .rows(
                        "select quote_ident(n.nspname) || '.' || quote_ident(c.relname), format_type(s.seqtypid, null), s.seqstart, s.seqincrement,"
                                + " s.seqmin, s.seqmax, s.seqcache, case when s.seqcycle then ' cycle' else '' end, d.deptype, quote_ident(a.attname), a.attnum"
                                + " from pg_depend d join pg_class c on c.oid = d.objid and c.relkind = 'S' join pg_namespace n on n.oid = c.relnamespace"
                                + " join pg_sequence s on s.seqrelid = c.oid join pg_attribute a on a.attrelid = d.refobjid and a.attnum = d.refobjsubid"
                                + " where d.classid = 'pg_class'::regclass and d.refclassid = 'pg_class'::regclass and d.refobjid = ?::oid"
                                + " and d.deptype in ('a', 'i') order by a.attnum",
                        oid)
                .stream()
                .filter(row -> attribute == null || row.get(10).equals(attribute))
                .toList();
    }

    private static String counting(List<String> row) {
        return " start with " + row.get(2) + " increment by " + row.get(3) + " minvalue " + row.get(4) + " maxvalue "
                + row.get(5) + " cache " + row.get(6) + row.get(7);
    }

    private List<String> sequences(String oid, String attribute) throws SQLException {
        return sequencesOf(oid, attribute).stream()
                .filter(row -> row.get(8).equals("a"))
                .map(row -> "create sequence " + row.get(0) + " as " + row.get(1) + counting(row))
                .collect(Collectors.toList());
    }

    private List<String> owned(String oid, String table, String attribute) throws SQLException {
        List<String> owned = new ArrayList<>();
        for (List<String> row : sequencesOf(oid, attribute)) {
            List<String> state =
                    ask.rows("select last_value, is_called from " + row.get(0)).get(0);
            if (row.get(8).equals("a")) {
                owned.add("alter sequence " + row.get(0) + " owned by " + table + "." + row.get(9));
            }
            owned.add("select setval(" + literal(row.get(0)) + ", " + state.get(0) + ", "
                    + state.get(1).equals("t") + ")");
        }
        return owned;
    }
}
