package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Asks for whatever of a table judges its records beyond what its columns and keys say: checks, exclusions, indexes on expressions or on
 * some of the records, keys in which nulls are alike, triggers and rules.
 */
final class Judging {
    /** What was named without quotes is named as people write it. */
    static final String H2 = "select case when name = upper(name) then lower(name) else name end from ("
            + "select constraint_name as name from information_schema.table_constraints"
            + " where table_schema = :schema and table_name = :table and (constraint_type = 'CHECK' or nulls_distinct = 'NO')"
            + " union all select trigger_name from information_schema.triggers"
            + " where event_object_schema = :schema and event_object_table = :table"
            + " union all select domain_name from information_schema.columns"
            + " where table_schema = :schema and table_name = :table and domain_name is not null)";

    static final String POSTGRES = "with t as (select c.oid from pg_catalog.pg_class c join pg_catalog.pg_namespace n"
            + " on n.oid = c.relnamespace where n.nspname = :schema and c.relname = :table)"
            + " select conname::text from pg_catalog.pg_constraint, t where conrelid = t.oid and contype in ('c', 'x', 't')"
            + " union all select k.conname::text from t join pg_catalog.pg_attribute a on a.attrelid = t.oid"
            + " join pg_catalog.pg_constraint k on k.contypid = a.atttypid where not a.attisdropped"
            + " union all select i.relname::text from t join pg_catalog.pg_index x on x.indrelid = t.oid"
            + " join pg_catalog.pg_class i on i.oid = x.indexrelid where x.indisunique and (x.indexprs is not null"
            + " or x.indpred is not null or to_jsonb(x) ->> 'indnullsnotdistinct' = 'true')"
            + " union all select tgname::text from pg_catalog.pg_trigger, t where tgrelid = t.oid and not tgisinternal"
            + " union all select rulename::text from pg_catalog.pg_rewrite, t where ev_class = t.oid";

    static final String MARIADB = "select constraint_name from information_schema.table_constraints"
            + " where table_schema = :schema and table_name = :table and constraint_type = 'CHECK'"
            + " union all select trigger_name from information_schema.triggers"
            + " where event_object_schema = :schema and event_object_table = :table"
            + " union all select s.index_name from information_schema.statistics s join information_schema.columns c"
            + " on c.table_schema = s.table_schema and c.table_name = s.table_name and c.column_name = s.column_name"
            + " where s.table_schema = :schema and s.table_name = :table and s.non_unique = 0"
            + " and coalesce(c.generation_expression, '') <> ''";

    /** An index on an expression has no name of a column in it. */
    static final String MYSQL = MARIADB + " union all select index_name from information_schema.statistics"
            + " where table_schema = :schema and table_name = :table and non_unique = 0 and column_name is null";

    /** What a check is called stands nowhere but in the text of the table. */
    static final String SQLITE = "select 'a check' from sqlite_schema where type = 'table' and name = :table"
            + " and lower(sql) like '%check%'"
            + " union all select name from sqlite_schema where type = 'trigger' and tbl_name = :table"
            + " union all select l.name from pragma_index_list(:table) l where l.\"unique\" and (l.partial"
            + " or exists (select 1 from pragma_index_xinfo(l.name) x where x.key and x.cid = -2))";

    private static final Pattern PARAMETER = Pattern.compile(":(schema|table)\\b");

    private Judging() {}

    /** Reads the names of all of it. */
    static List<String> read(String query, Connection connection, String schema, String table) throws SQLException {
        List<String> names = new ArrayList<>();
        try (PreparedStatement statement =
                connection.prepareStatement(PARAMETER.matcher(query).replaceAll("?"))) {
            int position = 0;
            for (Matcher parameter = PARAMETER.matcher(query); parameter.find(); ) {
                statement.setString(++position, parameter.group(1).equals("schema") ? schema : table);
            }
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    names.add(row.getString(1));
                }
            }
        }
        return names;
    }
}
