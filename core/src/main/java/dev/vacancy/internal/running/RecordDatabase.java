package dev.vacancy.internal.running;

import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.Store;
import dev.vacancy.internal.store.StoreTraits;
import java.util.Map;
import java.util.UUID;
import java.util.function.Predicate;
import java.util.function.Supplier;

/**
 * A database that isn't relational: where its records are read, and how what was planned is carried out there.
 *
 * <p>Safe for use by many threads.
 *
 * @since 0.1
 */
public interface RecordDatabase {
    /** {@return what it is called for people} */
    String name();

    /** {@return what it holds} */
    DatabaseCatalog catalog();

    /**
     * Sees to it that rules can be kept.
     *
     * @param rules the rules, held against the catalog
     * @throws InvalidRequestException when they ask for what this database can't do
     */
    void require(Rules rules);

    /** {@return what it does by itself, and what its transactions hold} */
    StoreTraits traits();

    /** {@return the records as they are now} */
    Store open();

    /**
     * Reads, and tells what the driver says as a failure of ours.
     *
     * @param work what to read
     * @param <T> what comes of it
     * @return what came of it
     * @throws DatabaseException when the database doesn't answer
     */
    <T> T reading(Supplier<T> work);

    /**
     * Carries out the steps of a plan, all or nothing, each only as far as the records are as planned.
     *
     * @param conclusion what is kept of it once it is done
     * @param passage proof that the plan has come through the gate
     * @param planned the plan
     * @param assigned what columns are set to
     * @param unchanged tells, once nobody else can change the records any more, whether the plan would still be the same there
     * @return how many records were deleted or marked, by table
     * @throws dev.vacancy.StalePlanException when records have changed since; nothing is left changed
     * @throws dev.vacancy.OutcomeUnknownException when the database stopped answering in the middle
     */
    Map<String, Long> carryOut(
            Conclusion conclusion,
            Passage passage,
            Planned planned,
            AssignedValues assigned,
            Predicate<Store> unchanged);

    /** {@return where it is kept which approvals were redeemed} */
    RedeemedApprovals redeemed();

    /**
     * Takes an approval before anything of it is read, so that it is redeemed once.
     *
     * @param redeeming the approval
     * @param run the id of the run that it is for
     * @return the approval, to be given back
     * @throws TakenException when somebody else has redeemed it, or is about to
     */
    TakenApproval take(Redeeming redeeming, UUID run);
}
