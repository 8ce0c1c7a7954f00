package dev.vacancy.hibernate;

import dev.vacancy.rule.Finding;
import dev.vacancy.rule.Marker;
import java.util.List;
import java.util.Map;

/**
 * What the mapping says of deletion.
 *
 * @param entities the tables of each entity, by its full name
 * @param collections the table of each collection, by its role
 * @param links the links between tables
 * @param softTables the tables whose records the mapper marks
 * @param versions the columns in which it counts changes
 * @param findings what says nothing that a rule can be made of
 */
record Mapping(
        Map<String, List<KeyedTable>> entities,
        Map<String, MappedTable> collections,
        List<MappedLink> links,
        List<SoftTable> softTables,
        List<VersionOf> versions,
        List<Finding> findings) {
    Mapping {
        entities = Map.copyOf(entities);
        collections = Map.copyOf(collections);
        links = List.copyOf(links);
        softTables = List.copyOf(softTables);
        versions = List.copyOf(versions);
        findings = List.copyOf(findings);
    }

    /**
     * A table that holds records of an entity, or parts of them.
     *
     * @param table the table
     * @param key the columns of its key, in the order of the entity's id
     */
    record KeyedTable(MappedTable table, List<String> key) {
        KeyedTable {
            key = List.copyOf(key);
        }
    }

    /**
     * A table whose records are marked when they are deleted.
     *
     * @param table the table
     * @param column the column that marks them
     * @param marker how
     * @param origin the entity or collection that says so
     */
    record SoftTable(MappedTable table, String column, Marker marker, String origin) {}

    /**
     * A column that counts changes.
     *
     * @param table the table
     * @param column the column
     * @param origin the attribute, such as {@code Berth.version}
     */
    record VersionOf(MappedTable table, String column, String origin) {}
}
