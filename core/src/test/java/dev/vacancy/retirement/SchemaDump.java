package dev.vacancy.retirement;

import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** A schema as its database tells it, but for our own tables. */
public final class SchemaDump {
    private SchemaDump() {}

    /** Tells it line by line. */
    public static List<String> of(Engine engine, Database database) {
        return switch (engine) {
            case H2 ->
                database.rows("script nodata nopasswords nosettings").stream()
                        .filter(line -> !line.contains("VACANCY_"))
                        .sorted()
                        .toList();
            case POSTGRESQL -> postgres(database);
            case MARIADB -> mariaDb(database);
            case SQLITE ->
                database
                        .rows(
                                "select type, name, tbl_name, sql from sqlite_schema where sql is not null and name not like 'vacancy%' order by 1, 2")
                        .stream()
                        // The words that make a table are written in small letters by whoever makes it anew.
                        .map(line -> line.replaceFirst("(?i)create table", "create table"))
                        .toList();
        };
    }

    private static List<String> postgres(Database database) {
        String ours = " not like 'vacancy%'";
        return Stream.of(
                        "select 'column', c.relname, a.attname, format_type(a.atttypid, a.atttypmod), a.attnotnull, a.attidentity, a.attgenerated, pg_get_expr(d.adbin, d.adrelid),"
                                + " a.attstorage, a.attcompression, a.attcollation::regcollation, array_to_string(a.attacl, ','), col_description(c.oid, a.attnum) from pg_attribute a join pg_class c on c.oid = a.attrelid and c.relkind = 'r'"
                                + " join pg_namespace n on n.oid = c.relnamespace and n.nspname = 'public' left join pg_attrdef d on d.adrelid = c.oid and d.adnum = a.attnum"
                                + " where a.attnum > 0 and not a.attisdropped and c.relname" + ours,
                        "select 'constraint', conrelid::regclass, conname, pg_get_constraintdef(oid) from pg_constraint where connamespace = 'public'::regnamespace and contype <> 'n' and conrelid::regclass::text"
                                + ours,
                        "select 'index', indexdef from pg_indexes where schemaname = 'public' and tablename" + ours,
                        "select 'view', viewname, definition from pg_views where schemaname = 'public'",
                        "select 'kept view', matviewname, definition from pg_matviews where schemaname = 'public'",
                        "select 'trigger', pg_get_triggerdef(oid), tgenabled from pg_trigger where not tgisinternal",
                        "select 'table', relname, array_to_string(array(select unnest(relacl)::text order by 1), ','), relrowsecurity, reloptions, obj_description(oid, 'pg_class'), relpersistence, relreplident from pg_class where relnamespace = 'public'::regnamespace and relkind in ('r', 'v') and relname"
                                + ours,
                        "select 'policy', policyname, permissive, roles, cmd, qual, with_check from pg_policies",
                        "select 'sequence', sequencename, data_type, start_value, increment_by, min_value, max_value, cycle, cache_size, last_value from pg_sequences where schemaname = 'public'",
                        "select 'owned', pg_get_serial_sequence(quote_ident(c.relname), a.attname), a.attname from pg_attribute a join pg_class c on c.oid = a.attrelid and c.relkind = 'r' and c.relnamespace = 'public'::regnamespace where a.attnum > 0 and not a.attisdropped and c.relname"
                                + ours,
                        "select 'statistics', pg_get_statisticsobjdef(oid) from pg_statistic_ext")
                .flatMap(query -> database.rows(query).stream())
                .sorted()
                .toList();
    }

    private static List<String> mariaDb(Database database) {
        List<String> dump = new ArrayList<>();
        for (String row : database.rows(
                "select table_name from information_schema.tables where table_schema = database() and table_name not like 'vacancy%' order by 1")) {
            // Keys stand in the order in which they were made.
            Stream.of(database.rows("show create table `" + row + "`")
                            .get(0)
                            .replace("\n", "\n")
                            .split("\n"))
                    .map(line -> row + ": " + line.replaceFirst(",$", ""))
                    .sorted()
                    .forEach(dump::add);
        }
        dump.addAll(
                database.rows(
                        "select trigger_name, event_manipulation, event_object_table, action_order, action_statement, action_timing, sql_mode from information_schema.triggers where trigger_schema = database() order by 1"));
        dump.addAll(
                database.rows(
                        "select grantee, table_name, privilege_type from information_schema.table_privileges where table_schema = database() order by 1, 2, 3"));
        // The order of its columns is the database's.
        database.rows(
                        "select table_name, column_name, ordinal_position, column_type, is_nullable, column_default from information_schema.columns where table_schema = database() and table_name not like 'vacancy%' order by 1, 3")
                .forEach(dump::add);
        return dump;
    }
}
