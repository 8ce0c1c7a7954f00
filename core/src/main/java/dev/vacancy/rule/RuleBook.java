package dev.vacancy.rule;

import dev.vacancy.ColumnCriteria;
import dev.vacancy.internal.request.WrittenRules;

/**
 * The rules that an application gives, before the catalog is known. What it doesn't mention is as the schema says.
 *
 * <pre>{@code
 * RuleBook.bySchema()
 *     .link("photo.hive_no", "hive")                                // the database doesn't declare this one
 *     .on("photo.hive_no", Clause.cascade())
 *     .on("treatment.hive_id",
 *         Clause.block("its withholding period runs").where("withhold_until >= today"),
 *         Clause.cascade())
 *     .marker("keeper", Marker.timestamp("left_at"))                  // whoever has left is not active
 * }</pre>
 *
 * @since 0.1
 */
public sealed interface RuleBook permits WrittenRules {
    /**
     * Starts with the rules that the schema states.
     *
     * @return a book without any rule of its own
     */
    static RuleBook bySchema() {
        return WrittenRules.NONE;
    }

    /**
     * Adds a link that the database doesn't declare. It needs a rule, as there is none in the schema.
     *
     * @param foreignKey where the foreign key stands: {@code table.column} or {@code table.(column, column)}
     * @param parent the parent's table, or {@code table.column} for a unique key of it
     * @return the larger book
     */
    RuleBook link(String foreignKey, String parent);

    /**
     * Adds a link that the database doesn't declare, between two columns of the same type.
     *
     * @param foreignKey the column in which children have it
     * @param parentKey the parent's primary key, or a unique one
     * @param <V> the type of their values
     * @return the larger book
     */
    default <V> RuleBook link(ColumnCriteria<V> foreignKey, ColumnCriteria<V> parentKey) {
        return link(foreignKey.name(), parentKey.name());
    }

    /**
     * Gives the rule on a link.
     *
     * @param link where its foreign key stands, such as {@code treatment.hive_id}
     * @param clauses the clauses, in their order; children that none applies to are treated as the schema says
     * @return the larger book
     */
    RuleBook on(String link, Clause... clauses);

    /**
     * Gives the rule on a link, named by its foreign key's one column.
     *
     * @param link the column, such as {@code treatment.hive_id}
     * @param clauses as for {@link #on(String, Clause...)}
     * @return the larger book
     */
    default RuleBook on(ColumnCriteria<?> link, Clause... clauses) {
        return on(link.name(), clauses);
    }

    /**
     * Says that parents are owned by their children: a parent goes with the last of its children on a link, as an object mapper deletes what an
     * entity refers to and cascades to. While another child refers to it, it stays.
     *
     * <pre>{@code
     * RuleBook.bySchema().ownedParents("keeper.address_id")      // nobody needs the address of a keeper who is gone
     * }</pre>
     *
     * @param links where their foreign keys stand, such as {@code keeper.address_id}
     * @return the larger book
     */
    RuleBook ownedParents(String... links);

    /**
     * Says what people recognise a table's records by, instead of its first text column.
     *
     * @param table the table
     * @param template text with columns of the table in braces, such as {@code {name} ({mark})}
     * @return the larger book
     */
    RuleBook label(String table, String template);

    /**
     * Says how a table marks its soft-deleted records. A record that isn't active can't take over the children of
     * another.
     *
     * @param table the table
     * @param marker the marker
     * @return the larger book
     */
    RuleBook marker(String table, Marker marker);

    /**
     * Ignores the changes of what never stands still: it is left out of the fingerprint, so that an approval isn't stale before anybody can
     * use it, and told exactly by the outcome.
     *
     * @param places tables such as {@code reading}, or columns such as {@code hive.last_reading_at}
     * @return the larger book
     */
    RuleBook ignoringChangesIn(String... places);

    /**
     * Adds schemas beside the connection's own, whose tables belong to the catalog too. Tables that links connect with it
     * belong to it anyway.
     *
     * @param names the schemas as the database stores their names
     * @return the larger book
     */
    RuleBook schemas(String... names);

    /**
     * Has the records of a table marked when they are deleted. It needs a {@link #marker}.
     *
     * @param table the table
     * @return the larger book
     */
    default RuleBook soft(String table) {
        return soft(table, SoftDelete.defaults());
    }

    /**
     * Does the same, and says what is written beside the marker, what goes for good all the same, and how long the rest is
     * kept.
     *
     * @param table the table
     * @param soft how
     * @return the larger book
     */
    RuleBook soft(String table, SoftDelete soft);

    /**
     * Names columns that count the changes of a record, so that whoever holds an older state of it notices: they are counted up
     * when a record is marked, detached or reassigned.
     *
     * @param places such as {@code keeper.row_version}
     * @return the larger book
     */
    RuleBook versionColumn(String... places);

    /**
     * Names the columns that say who changed a record last, and when: they are set on a parent that stays when a child of it is
     * marked.
     *
     * @param table the parent's table
     * @param byColumn the column for the actor's name
     * @param atColumn the column for the time
     * @return the larger book
     */
    RuleBook modifiedColumns(String table, String byColumn, String atColumn);

    /**
     * Says how hard people are asked before records of a table go: those that are selected, or go along with others.
     *
     * @param table the table
     * @param rule how hard; without any, a selected record takes a yes
     * @return the larger book
     */
    RuleBook consent(String table, ConsentRule rule);

    /**
     * Writes down what each run does, in the same transaction.
     *
     * @param where where the trail is kept
     * @return the larger book
     */
    RuleBook trail(Trail where);

    /**
     * Has something follow outside of the database when records of a table go, are marked, come back or are changed. It needs a trail.
     *
     * @param table the table
     * @param followUp what follows; a table may have several, each of another name
     * @return the larger book
     */
    RuleBook followUp(String table, FollowUp followUp);

    /**
     * Says what is known of the persons that records of a table stand for, and what an erasure of all of it does.
     *
     * @param table the table, such as {@code keeper}
     * @param trace what is looked for, and what becomes of it
     * @return the larger book
     */
    RuleBook trace(String table, TraceRule trace);

    /**
     * Says what the database can't tell of the servers that it consists of.
     *
     * @param rules what lets through what is refused otherwise
     * @return the larger book
     */
    RuleBook servers(ServerRule... rules);
}
