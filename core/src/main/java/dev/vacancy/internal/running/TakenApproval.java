package dev.vacancy.internal.running;

import dev.vacancy.Proposal;
import java.time.Instant;
import java.util.UUID;

/**
 * An approval that a run has taken, so that no other one is redeemed by it. It is given back at the end if nothing has come of it.
 *
 * @since 0.1
 */
public abstract class TakenApproval implements AutoCloseable {
    private final String approval;
    private final UUID run;
    private StoredReceipt receipt;

    /**
     * An approval that was taken.
     *
     * @param approval the id of the approval
     * @param run the id of the run that it is for
     */
    protected TakenApproval(String approval, UUID run) {
        this.approval = approval;
        this.run = run;
    }

    /** {@return the id of the approval} */
    public String approval() {
        return approval;
    }

    /** {@return the id of the run that it is for} */
    public UUID run() {
        return run;
    }

    /**
     * Says what is to come of it.
     *
     * @param plan what the run is to do
     * @param at when
     * @return the approval with that, to be kept with the run
     */
    public Redeemed redeemedBy(Proposal plan, Instant at) {
        receipt = StoredReceipt.of(run, plan, at);
        return new Redeemed(approval, receipt);
    }

    /** {@return what has come of it, once its run is done} */
    public StoredReceipt receipt() {
        return receipt;
    }

    /** Gives it back if nothing has come of it. What can't be told to the database any more is found out by whoever takes it next. */
    @Override
    public abstract void close();
}
