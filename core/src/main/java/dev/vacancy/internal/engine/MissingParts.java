package dev.vacancy.internal.engine;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.follow.FollowUpTables;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.request.WrittenRules.MarkerOfTable;
import dev.vacancy.internal.request.WrittenRules.ModifiedColumns;
import dev.vacancy.internal.request.WrittenRules.SoftTable;
import dev.vacancy.internal.request.WrittenRules.VersionColumn;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.TrailDdl;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.internal.trail.TrailUpgrade;
import dev.vacancy.rule.Ddl.Part;
import dev.vacancy.rule.SoftDelete;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Collects what is missing in a database. */
final class MissingParts {
    /** What the database with the least room has for a name, in bytes. */
    private static final int LONGEST_NAME = 63;

    private static final int DIGITS_OF_NAME = 8;
    private static final int SHORT_WORD = 20;

    private final Dialect dialect;
    private final DatabaseCatalog catalog;
    private final Connection connection;
    private final List<String> statements = new ArrayList<>();
    private final List<String> remarks = new ArrayList<>();
    private final Set<String> columns = new LinkedHashSet<>();
    private Optional<TrailUpgrade> upgrade = Optional.empty();

    MissingParts(Dialect dialect, DatabaseCatalog catalog, Connection connection) {
        this.dialect = dialect;
        this.catalog = catalog;
        this.connection = connection;
    }

    List<String> statements() {
        return statements;
    }

    List<String> remarks() {
        return remarks;
    }

    Optional<TrailUpgrade> upgrade() {
        return upgrade;
    }

    /** Whether all columns are there that the rules name. */
    boolean isWhole() {
        return columns.isEmpty();
    }

    /** Tables of ours that are asked for, and those that an earlier version has made. */
    void others(Set<Part> asked) throws SQLException {
        for (Part part : Part.values()) {
            List<String> missing = OwnTables.missing(SchemaChanges.tables(part, dialect), dialect, connection);
            if (asked.contains(part) || !missing.equals(OwnTables.ddl(SchemaChanges.tables(part, dialect), dialect))) {
                statements.addAll(missing);
            }
        }
    }

    void trail(TrailTables tables) throws SQLException {
        TrailDdl ddl = new TrailDdl(tables);
        if (ddl.areOld(connection)) {
            upgrade = Optional.of(new TrailUpgrade(tables, this::keyOf));
            statements.addAll(ddl.remaking(connection));
            remarks.add(
                    "The audit trail is of an earlier version. These statements set it aside and make the tables anew;"
                            + " what it holds is taken over by 'vacancy ddl --apply', or Ddl.apply().");
        } else if (!ddl.areThere(connection)) {
            statements.addAll(ddl.ddl());
        } else {
            statements.addAll(ddl.missing(connection));
        }
        List<String> left = ddl.leftOver(connection);
        if (!left.isEmpty()) {
            remarks.add("What stands in " + String.join(" and ", left)
                    + " was taken over into the audit trail; drop these tables when you don't want them any more.");
        }
    }

    /** A follow-up begins where the trail ends when it is made: what happened before doesn't follow any more. */
    void followUps(WrittenRules rules, TrailTables tables) throws SQLException {
        List<String> missing = OwnTables.missing(FollowUpTables.ALL, dialect, connection);
        statements.addAll(missing);
        boolean placesAreMissing =
                OwnTables.FOLLOW_UP_PLACE.ddl(dialect).stream().anyMatch(missing::contains);
        List<String> begun = placesAreMissing ? List.of() : FollowUpTables.begun(connection);
        rules.followUps().stream()
                .map(rule -> rule.followUp().name())
                .distinct()
                .filter(name -> !begun.contains(name))
                .forEach(name -> statements.add(FollowUpTables.beginning(name, tables.runsName())));
    }

    /** The key of a record as the trail has it, if the table is still there and its image has the key. */
    private Optional<String> keyOf(String name, Map<String, Object> image) {
        return catalog.tables().stream()
                .filter(table -> table.name().equals(name) && !table.identity().isEmpty())
                .filter(table -> table.identity().stream().allMatch(column -> image.get(column.name()) != null))
                .map(table -> TrailKey.of(table.identity().stream()
                        .map(column -> dialect.codec(column).keyOf(image.get(column.name())))
                        .toList()))
                .findFirst();
    }

    void columns(WrittenRules rules) {
        for (MarkerOfTable marker : rules.markers()) {
            Table table = catalog.table(marker.table());
            if (marker.marker() instanceof RowMarker.Flag flag) {
                column(table, flag.column(), flagType(flag.active()) + " not null");
            } else if (!(marker.marker() instanceof LatestRow)) {
                boolean day = marker.marker() instanceof RowMarker.EndDate;
                column(table, RowMarker.of(marker.marker()).column(), day ? "date" : dialect.instantType());
            }
        }
        for (SoftTable soft : rules.softTables()) {
            Table table = catalog.table(soft.table());
            soft.soft().timeColumn().ifPresent(column -> column(table, column, dialect.instantType()));
            soft.soft().actorColumn().ifPresent(column -> column(table, column, "varchar(200)"));
            soft.soft().reasonColumn().ifPresent(column -> column(table, column, "varchar(1000)"));
        }
        for (ModifiedColumns modified : rules.modified()) {
            Table table = catalog.table(modified.table());
            modified.by().ifPresent(column -> column(table, column, "varchar(200)"));
            modified.at().ifPresent(column -> column(table, column, dialect.instantType()));
        }
        for (VersionColumn version : rules.versions()) {
            int point = version.place().lastIndexOf('.');
            if (point > 0) {
                column(
                        catalog.table(version.place().substring(0, point)),
                        version.place().substring(point + 1),
                        "bigint default 0 not null");
            }
        }
    }

    private String flagType(Object active) {
        if (active instanceof Boolean truth) {
            return "boolean default " + dialect.truthLiteral(truth);
        }
        return active instanceof Integer || active instanceof Long || active instanceof Short
                ? "integer default " + active
                : "varchar(" + Math.max(SHORT_WORD, active.toString().length()) + ") default "
                        + dialect.textLiteral(active.toString());
    }

    /** A name of ours; one that is too long for some database ends in a digest of the whole. */
    private static String named(String whole) {
        if (bytes(whole) <= LONGEST_NAME) {
            return whole;
        }
        String digits = "_" + Chain.digest(whole).substring(0, DIGITS_OF_NAME);
        int end = 0;
        while (bytes(whole.substring(0, whole.offsetByCodePoints(end, 1)) + digits) <= LONGEST_NAME) {
            end = whole.offsetByCodePoints(end, 1);
        }
        return whole.substring(0, end) + digits;
    }

    private static int bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8).length;
    }

    private void column(Table table, String name, String definition) {
        try {
            table.column(name);
        } catch (InvalidRequestException missing) {
            if (columns.add(table + "." + name)) {
                statements.add("alter table " + dialect.name(table) + " add column " + name + " " + definition);
            }
        }
    }

    void softTables(Rules rules) throws SQLException {
        for (Table table : catalog.tables()) {
            SoftDelete soft = rules.softness().tables().get(table);
            if (soft != null) {
                soft(table, soft, rules);
            }
        }
    }

    private void soft(Table table, SoftDelete soft, Rules rules) throws SQLException {
        ActiveRecords active = ActiveRecords.of(table, rules, dialect, Clock.systemUTC());
        Column marker = table.column(rules.softness().markers().get(table).column());
        String base = table.storedName();
        String index = named(base + "_by_" + marker.storedName());
        List<Column> indexed = new ArrayList<>();
        rules.latestRow(table).ifPresent(latest -> latest.key().forEach(column -> indexed.add(table.column(column))));
        indexed.add(marker);
        if (!CatalogTable.of(table).isIndexed(indexed)) {
            statements.add("create index " + dialect.quote(index) + " on " + dialect.nameInIndex(table) + " ("
                    + String.join(", ", dialect.names(indexed)) + ")");
        }
        if (!dialect.namespace().own(connection).equals(table.schema())
                && !table.schema().isEmpty()) {
            remarks.add("A view of the active records of " + table
                    + " isn't made, as its schema isn't the current one: make it with what Active.sql() gives.");
        } else {
            String plain = named("active_" + base.toLowerCase(Locale.ROOT));
            boolean odd = !plain.matches("[a-z_0-9]+");
            String view = odd ? named("active_" + base) : plain;
            if (!dialect.hasTable(connection, view)) {
                statements.add("create view " + (odd ? dialect.quote(view) : view) + " as select * from "
                        + dialect.name(table) + " where " + active.sql());
            }
        }
        for (List<String> columns : soft.unique()) {
            List<Column> unique = columns.stream().map(table::column).toList();
            String names = unique.stream().map(Column::name).collect(Collectors.joining(", "));
            boolean appended = rules.latestRow(table).isPresent();
            String uniqueIndex = named(
                    base + "_active_" + unique.stream().map(Column::storedName).collect(Collectors.joining("_")));
            Optional<String> made = appended
                    ? Optional.empty()
                    : dialect.uniqueAmong(
                            dialect.quote(uniqueIndex),
                            dialect.nameInIndex(table),
                            dialect.names(unique),
                            active.sql());
            if (made.isEmpty()) {
                remarks.add((appended
                                ? "Which row is the latest can't be told by an index"
                                : dialect.name() + " has no unique index over some of the records only")
                        + ": that no two active"
                        + " records of " + table + " have the same " + names
                        + " is checked at a restore, and is up to"
                        + " the application otherwise.");
            } else if (!dialect.hasIndex(connection, uniqueIndex)) {
                statements.add(made.get());
            }
        }
    }
}
