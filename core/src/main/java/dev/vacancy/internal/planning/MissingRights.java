package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.store.MissingRight;
import java.util.List;

/** Tells before anything is run what the database's user may not do. */
final class MissingRights {
    private MissingRights() {}

    /** Refuses a plan whose steps the database would refuse. */
    static void refuse(List<Step> steps, DatabaseCatalog catalog) {
        for (Step step : steps) {
            refuseHalves(step.table(), catalog);
            if (step instanceof Step.Delete && !catalog.access(step.table()).delete()) {
                throw MissingRight.of("delete from", "delete on", step.table());
            }
            if (!(step instanceof Step.Delete) && !catalog.access(step.table()).update()) {
                throw MissingRight.of("update", "update on", step.table());
            }
        }
    }

    /** Refuses changes to a table of which only a part might be taken back. */
    static void refuseHalves(Table table, DatabaseCatalog catalog) {
        if (!catalog.access(table).transactional()) {
            throw withoutTransactions(table);
        }
    }

    private static InvalidRequestException withoutTransactions(Table table) {
        return new InvalidRequestException(
                        FailureCode.NOT_TRANSACTIONAL,
                        "Changes to " + table + " can't be taken back, as its storage engine has no transactions, so a"
                                + " deletion that reaches it couldn't be all or nothing.",
                        "Give " + table + " an engine that has them, such as InnoDB.")
                .about("table", table);
    }
}
