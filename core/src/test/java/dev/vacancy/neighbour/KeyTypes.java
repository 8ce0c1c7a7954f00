package dev.vacancy.neighbour;

import dev.vacancy.testing.Engine;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The types that each database offers for keys, each with values that are one another's nearest neighbours. */
final class KeyTypes {
    private KeyTypes() {}

    /** The statements that make a database's own types. */
    static List<String> definitions(Engine engine) {
        return engine == Engine.POSTGRESQL
                ? List.of(
                        "create type \"Mood\" as enum ('calm', 'Calm', 'cross')",
                        "create domain small_number as integer check (value > 0)",
                        "create domain price as numeric(10, 2)",
                        "create type spot as (hive int, frame text)")
                : List.of();
    }

    /** The values of each type, as literals. */
    static Map<String, List<String>> of(Engine engine) {
        Map<String, List<String>> types = new LinkedHashMap<>();
        switch (engine) {
            case H2 -> addH2(types);
            case POSTGRESQL -> addPostgres(types);
            case MARIADB -> addMariaDb(types);
            case SQLITE -> addSqlite(types);
        }
        return types;
    }

    private static void addH2(Map<String, List<String>> types) {
        types.put("tinyint", List.of("1", "2", "-1"));
        types.put("smallint", List.of("32767", "32766"));
        types.put("int", List.of("0", "1"));
        types.put("bigint", List.of("9223372036854775807", "9223372036854775806"));
        types.put("numeric(10, 2)", List.of("9.99", "10.00", "9.90"));
        types.put("numeric(30, 15)", List.of("1.000000000000001", "1.000000000000002"));
        types.put("numeric(20)", List.of("10000000000000000001", "10000000000000000002"));
        types.put("decfloat(20)", List.of("0.1", "0.10000000000000000001", "1e5"));
        types.put("real", List.of("0.1", "0.10000001", "16777216", "1e7"));
        types.put("double precision", List.of("0.3", "0.30000000000000004", "1e7", "1e-4"));
        types.put("char(3)", List.of("'ABC'", "'A'", "'AB'", "'abc'"));
        types.put("varchar(10)", List.of("'a'", "'A'", "'a '", "' a'", "'ä'", "'a\u0308'", "''"));
        types.put("varchar_ignorecase(10)", List.of("'a'", "'b'", "'a '"));
        types.put("binary(4)", List.of("x'00000000'", "x'00000001'"));
        types.put("varbinary(10)", List.of("x'00'", "x'0000'", "x''"));
        types.put("boolean", List.of("true", "false"));
        types.put("date", List.of("date '2026-03-29'", "date '2026-03-30'", "date '0001-01-01'"));
        types.put("time(6)", List.of("time '08:30:00'", "time '08:30:00.000001'", "time '02:15:00'"));
        types.put(
                "time(3) with time zone",
                List.of("time with time zone '08:30:00+00'", "time with time zone '08:30:00+02'"));
        types.put("timestamp(0)", List.of("timestamp '2026-05-01 08:00:00'", "timestamp '2026-05-01 08:00:01'"));
        types.put("timestamp(9)", wallClock("timestamp '", ".123456789'", ".12345679'"));
        types.put("timestamp(9) with time zone", pointsInTime("timestamp with time zone '"));
        types.put(
                "interval day to second",
                List.of("interval '1 00:00:00' day to second", "interval '1 00:00:00.000001' day to second"));
        types.put("interval year to month", List.of("interval '1-0' year to month", "interval '1-1' year to month"));
        types.put("interval hour", List.of("interval '1' hour", "interval '2' hour"));
        types.put(
                "uuid",
                List.of("uuid '018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10'", "uuid '018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b11'"));
        types.put("enum('a', 'B', 'b''c')", List.of("'a'", "'B'", "'b''c'"));
        types.put("int array", List.of("array[1, 2]", "array[1, 2, 3]", "array[2, 1]"));
    }

    private static void addPostgres(Map<String, List<String>> types) {
        types.put("smallint", List.of("1", "2", "-1"));
        types.put("int", List.of("0", "1"));
        types.put("bigint", List.of("9223372036854775807", "9223372036854775806"));
        types.put("oid", List.of("4294967295", "4294967294"));
        types.put("numeric(10, 2)", List.of("9.99", "10.00", "9.90"));
        types.put("numeric", List.of("1.00000000000000000000001", "1.00000000000000000000002", "1000", "'NaN'"));
        types.put("real", List.of("0.1", "0.10000001", "16777216", "1e7"));
        types.put("double precision", List.of("0.3", "0.30000000000000004", "1e7", "1e-4", "'Infinity'"));
        types.put("money", List.of("'1.50'", "'1.51'"));
        types.put("char(3)", List.of("'ABC'", "'A'", "'AB'", "'abc'"));
        types.put("\"char\"", List.of("'a'", "'A'"));
        types.put("name", List.of("'a'", "'A'", "'a '"));
        types.put("varchar(10)", List.of("'a'", "'A'", "'a '", "' a'", "'ä'", "'a\u0308'", "''"));
        types.put("text", List.of("'a'", "'A'", "'a '", "' a'", "'ä'", "'a\u0308'", "''", "'{}'", "'NULL'"));
        types.put("bytea", List.of("'\\x00'", "'\\x0000'", "'\\x'"));
        types.put("bit(3)", List.of("b'010'", "b'011'"));
        types.put("varbit(5)", List.of("b'01'", "b'010'"));
        types.put("boolean", List.of("true", "false"));
        types.put("date", List.of("'2026-03-29'", "'2026-03-30'", "'infinity'", "'-infinity'", "'0044-03-15 BC'"));
        types.put("time", List.of("'08:30'", "'08:30:00.000001'", "'24:00'", "'00:00'", "'02:15'"));
        types.put("time with time zone", List.of("'08:30+00'", "'08:30+01'", "'08:30:00.5+00'"));
        types.put("timestamp(0)", List.of("'2026-05-01 08:00:00'", "'2026-05-01 08:00:01'"));
        types.put("timestamp", withEnds(wallClock("'", ".123456'", ".12345'")));
        types.put("timestamp with time zone", withEnds(pointsInTime("'")));
        types.put("interval", List.of("'1 day'", "'24:00:00.000001'", "'1 mon'", "'1 mon 00:00:01'"));
        types.put("uuid", List.of("'018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10'", "'018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b11'"));
        types.put("inet", List.of("'10.0.0.1'", "'10.0.0.1/24'", "'10.0.0.2'"));
        types.put("cidr", List.of("'10.0.0.0/24'", "'10.0.0.0/25'"));
        types.put("macaddr", List.of("'08:00:2b:01:02:03'", "'08:00:2b:01:02:04'"));
        types.put("pg_lsn", List.of("'0/16B3748'", "'0/16B3749'"));
        types.put("int[]", List.of("'{1,2}'", "'{1,2,3}'", "'{2,1}'", "'{}'", "'{{1,2}}'"));
        types.put("text[]", List.of("'{a,b}'", "'{\"a,b\"}'", "'{NULL}'", "'{\"NULL\"}'"));
        types.put("\"Mood\"", List.of("'calm'", "'Calm'", "'cross'"));
        types.put("small_number", List.of("1", "2"));
        types.put("price", List.of("9.99", "10.00"));
        types.put("spot", List.of("'(1,a)'", "'(1,\"a \")'", "'(1,)'"));
        types.put("tsrange", List.of("'[2026-01-01,2026-02-01)'", "'[2026-01-01,2026-02-01]'"));
        types.put("jsonb", List.of("'{\"a\": 1}'", "'{\"a\": \"1\"}'"));
    }

    private static void addMariaDb(Map<String, List<String>> types) {
        types.put("tinyint", List.of("1", "2", "-1"));
        types.put("tinyint unsigned", List.of("255", "254"));
        types.put("tinyint(1)", List.of("0", "1", "2"));
        types.put("smallint unsigned", List.of("60000", "60001"));
        types.put("mediumint", List.of("-8388608", "-8388607"));
        types.put("int", List.of("0", "1"));
        types.put("int unsigned", List.of("3000000000", "3000000001"));
        types.put("bigint", List.of("9223372036854775807", "9223372036854775806"));
        types.put(
                "bigint unsigned", List.of("0", "18446744073709551615", "18446744073709551614", "9223372036854775808"));
        types.put("decimal(10, 2)", List.of("9.99", "10.00", "9.90"));
        types.put("decimal(38, 30)", List.of("1.000000000000000000000000000001", "1.000000000000000000000000000002"));
        types.put("float", List.of("0.1", "0.10000001", "16777216", "16777218"));
        types.put("double", List.of("0.3", "0.30000000000000004", "1e7", "1e-4"));
        types.put("bit(5)", List.of("b'1'", "b'10'"));
        types.put("bit(1)", List.of("b'0'", "b'1'"));
        types.put("char(3) collate utf8mb4_bin", List.of("'ABC'", "'A'", "'AB'", "'abc'"));
        types.put(
                "varchar(10) collate utf8mb4_nopad_bin",
                List.of("'a'", "'A'", "'a '", "' a'", "'ä'", "'a\u0308'", "''"));
        types.put("varchar(10) collate utf8mb4_general_ci", List.of("'a'", "'b'", "'ab'"));
        types.put("varchar(10) character set latin1", List.of("'a'", "'b'", "'é b'"));
        types.put("binary(4)", List.of("x'00000000'", "x'00000001'"));
        types.put("varbinary(10)", List.of("x'00'", "x'0000'", "x''"));
        types.put("date", List.of("'2026-03-29'", "'2026-03-30'"));
        types.put("time(6)", List.of("'08:30:00'", "'08:30:00.000001'", "'-08:30:00'", "'838:59:59'", "'02:15:00'"));
        types.put("datetime", List.of("'2026-05-01 08:00:00'", "'2026-05-01 08:00:01'"));
        types.put("datetime(6)", wallClock("'", ".123456'", ".12345'"));
        types.put(
                "timestamp(6)",
                List.of(
                        "from_unixtime(1774747700)",
                        "from_unixtime(1774747700.000001)",
                        "from_unixtime(1792888200)",
                        "from_unixtime(1792891800)"));
        types.put("year", List.of("2026", "2027"));
        types.put("uuid", List.of("'018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10'", "'018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b11'"));
        types.put("inet6", List.of("'::1'", "'::2'"));
        types.put("enum('a', 'B', 'c')", List.of("'a'", "'B'", "'c'"));
        types.put("set('x', 'y')", List.of("'x'", "'x,y'", "''"));
    }

    private static void addSqlite(Map<String, List<String>> types) {
        types.put("integer", List.of("1", "2", "9223372036854775807", "9223372036854775806"));
        types.put("bigint", List.of("1", "2", "-1"));
        types.put(
                "text", List.of("'a'", "'A'", "'a '", "' a'", "'ä'", "'a\u0308'", "''", "'61'", "x'61'", "'[\"61\"]'"));
        types.put("char(3)", List.of("'ABC'", "'A'", "'A  '", "'abc'"));
        types.put("varchar(10) collate nocase", List.of("'a'", "'b'", "'a '"));
        types.put("varchar(10) collate rtrim", List.of("'a'", "'A'", "' a'"));
        types.put("real", List.of("0.3", "0.30000000000000004", "1e7", "1e-4"));
        types.put("floating", List.of("9e999", "'Infinity'", "1.0", "'1d'"));
        types.put("numeric", List.of("1", "1.5", "'1.5x'", "0.1", "0.30000000000000004"));
        types.put("decimal(10, 2)", List.of("9.99", "10.00", "9.999"));
        types.put("blob", List.of("x'00'", "x'0000'", "x''", "'a'", "1"));
        types.put("", List.of("1", "'1'", "x'31'", "1.5"));
        types.put("boolean", List.of("0", "1", "2"));
        types.put("date", List.of("'2026-05-01'", "'2026-05-02'", "20260501"));
        types.put("time", List.of("'08:30'", "'08:30:00'", "'08:30:00.000'", "'08:30:01'"));
        types.put(
                "timestamp",
                List.of(
                        "'2026-05-01 08:00:00.000'",
                        "'2026-05-01 08:00:00'",
                        "'2026-05-01T08:00:00'",
                        "'2026-05-01 08:00'",
                        "'2026-03-29 02:15:00'",
                        "'2026-03-29 03:15:00'",
                        "1777622400000"));
        types.put(
                "uuid",
                List.of(
                        "'018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10'",
                        "'018F6D2A-7F0E-7B1C-9D52-3C0C3F3A5B10'",
                        "'018F6D2A-7F0E-7B1C-9D52-3C0C3F3A5B11'"));
    }

    /** What clocks show, at the changes to summer time and back among them. */
    private static List<String> wallClock(String before, String fraction, String other) {
        return List.of(
                before + "2026-03-29 02:15:00'",
                before + "2026-03-29 03:15:00'",
                before + "2026-10-25 02:30:00'",
                before + "2026-05-01 08:00:00'",
                before + "2026-05-01 08:00:00" + fraction,
                before + "2026-05-01 08:00:00" + other);
    }

    private static List<String> pointsInTime(String before) {
        return List.of(
                before + "2026-10-25 02:30:00+02'",
                before + "2026-10-25 02:30:00+01'",
                before + "2026-03-29 01:15:00+00'",
                before + "2026-03-29 01:15:00.000001+00'");
    }

    private static List<String> withEnds(List<String> values) {
        List<String> all = new java.util.ArrayList<>(values);
        all.add("'infinity'");
        all.add("'-infinity'");
        return all;
    }
}
