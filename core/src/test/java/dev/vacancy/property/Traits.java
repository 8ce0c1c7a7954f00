package dev.vacancy.property;

import dev.vacancy.testing.Engine;
import java.util.Optional;
import java.util.Set;

/**
 * What is odd about a world beside its links.
 *
 * @param naming how its tables are called
 * @param keyType what its keys are
 * @param partitioned tables that are cut into partitions, where the database can have that
 * @param generated tables whose first column is computed by the database
 * @param refusal the trigger that keeps a record, if there is one
 */
record Traits(
        Naming naming, KeyType keyType, Set<Integer> partitioned, Set<Integer> generated, Optional<Refusal> refusal) {
    /**
     * A trigger that keeps a record from being deleted.
     *
     * @param table the table
     * @param id the record's number
     * @param silent whether it says nothing, where the database can have that
     */
    record Refusal(int table, int id, boolean silent) {}

    /** The same as far as a database can have it. */
    Traits on(Engine engine) {
        return new Traits(
                naming,
                keyType.on(engine),
                engine == Engine.POSTGRESQL ? partitioned : Set.of(),
                generated,
                engine == Engine.H2 ? Optional.empty() : refusal);
    }

    /** The trigger, in the words of a database. */
    Optional<String[]> trigger(Engine engine, String table, String schema) {
        if (refusal.isEmpty()) {
            return Optional.empty();
        }
        String condition = "old.id = " + keyType.literal(refusal.get().id());
        boolean silent = refusal.get().silent();
        return Optional.of(
                switch (engine) {
                    case H2 -> throw new IllegalStateException("its triggers are classes");
                    case POSTGRESQL ->
                        new String[] {
                            "create function refuse() returns trigger language plpgsql as $$ begin if " + condition
                                    + " then " + (silent ? "return null" : "raise exception 'it stays'")
                                    + "; end if; return old; end $$",
                            "create trigger refuse before delete on " + table
                                    + " for each row execute function refuse()"
                        };
                    case MARIADB ->
                        new String[] {
                            "create trigger " + schema + "refuse before delete on " + table + " for each row if "
                                    + condition + " then signal sqlstate '45000'; end if"
                        };
                    case SQLITE ->
                        new String[] {
                            "create trigger refuse before delete on " + table + " when " + condition
                                    + " begin select raise(" + (silent ? "ignore" : "abort, 'it stays'") + "); end"
                        };
                });
    }
}
