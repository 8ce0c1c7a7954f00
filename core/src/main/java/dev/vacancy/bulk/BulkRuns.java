package dev.vacancy.bulk;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.UnexpectedCountException;
import java.util.List;
import java.util.UUID;

/**
 * Large deletions in chunks, each planned, run and committed by itself. Their state lives in two tables of the user's database,
 * so that a run can be watched, paused, cancelled, and resumed after a crash, from the same or another process: what a chunk
 * deletes and that it is done are one transaction. Get one by {@code vacancy.bulk()}.
 *
 * <p>The selection is fixed when a run starts: records that come to match later are left alone. Any number of processes may work on a
 * run at the same time; each takes records that no other has claimed.
 *
 * @since 0.1
 */
public interface BulkRuns {
    /**
     * How many characters the criteria of a run may have that are held against each record when it comes to it; of longer ones
     * {@link BulkOptions#deletingAsSelected} makes a run.
     */
    int LONGEST_CRITERIA = 1_500;

    /**
     * Starts a run: fixes which records it is about, and deletes none of them yet. To work on it call {@link #work}.
     *
     * @param approval proof that somebody agreed to it, in chunks
     * @param options how it is cut into chunks
     * @return the run
     * @throws StalePlanException when another number of records is selected by now than was approved
     * @throws InvalidRequestException when the approval is of something else, by the rules somebody hasn't agreed, or the tables of bulk runs aren't there
     * @throws DatabaseException when the database refuses a statement
     */
    BulkRun start(Approval approval, BulkOptions options);

    /**
     * Starts a run that a program has decided on, without a plan before. Where the rules say that a person is asked, it is refused.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @param options how it is cut into chunks
     * @return the run
     * @throws InvalidRequestException when the selection doesn't fit the catalog, or by the rules somebody has to agree
     * @throws UnexpectedCountException when the selection says how many records it must match and matches others
     * @throws DatabaseException when the database refuses a statement
     */
    BulkRun start(Selection selection, By by, BulkOptions options);

    /**
     * Names the exemption that a run was started with.
     *
     * @param run its id
     * @return the name; empty for none
     * @throws InvalidRequestException when there is no such run
     * @throws DatabaseException when the database can't be read
     */
    String exemption(UUID run);

    /**
     * Works on a run until nothing is left to do, or it is paused, stopped or cancelled by anybody, or the thread is
     * interrupted: then it ends after the chunk that it is at. Records that failed are
     * tried once more at the end, since what stood in their way may be gone.
     *
     * @param run its id
     * @param options the chunks that this worker takes
     * @param exemption the one that the run was started with; {@link Exemption#none()} most often
     * @param listener is told after each chunk
     * @return the run as it stands then
     * @throws InvalidRequestException when there is no such run, or it was started with another exemption or under other rules
     * @throws DatabaseException when the database refuses a statement
     */
    BulkRun work(UUID run, BulkOptions options, Exemption exemption, BulkListener listener);

    /**
     * Works on a run in the same way, in chunks of the default size and without an exemption.
     *
     * @param run its id
     * @return the run as it stands then
     * @throws InvalidRequestException when there is no such run, or it was started with an exemption or under other rules
     * @throws DatabaseException when the database refuses a statement
     */
    default BulkRun work(UUID run) {
        return work(run, BulkOptions.defaults(), Exemption.none(), progress -> {});
    }

    /**
     * Takes one chunk of a run.
     *
     * @param run its id
     * @param options how large it may be
     * @param exemption the one that the run was started with; {@link Exemption#none()} most often
     * @param listener is told what was deleted, and of the end
     * @return true if there may be more to do
     * @throws InvalidRequestException when there is no such run, or it was started with another exemption or under other rules
     * @throws DatabaseException when the database refuses a statement
     */
    boolean workChunk(UUID run, BulkOptions options, Exemption exemption, BulkListener listener);

    /**
     * Looks a run up.
     *
     * @param run its id
     * @return the run as it stands
     * @throws InvalidRequestException when there is no such run
     * @throws DatabaseException when the database can't be read
     */
    BulkRun run(UUID run);

    /**
     * Lists all runs.
     *
     * @return the runs, the newest first; none if the tables aren't there
     * @throws DatabaseException when the database can't be read
     */
    List<BulkRun> list();

    /**
     * Lists the runs in one state: those that workers go on with, for instance.
     *
     * @param state the state
     * @return the runs, the newest first; none if the tables aren't there
     * @throws DatabaseException when the database can't be read
     */
    List<BulkRun> list(BulkState state);

    /**
     * Lists selected records that a run left where they are.
     *
     * @param run its id
     * @param most how many at most
     * @return the records by key
     * @throws InvalidRequestException when there is no such run, or {@code most} is none
     * @throws DatabaseException when the database can't be read
     */
    List<FailedRecord> failures(UUID run, int most);

    /**
     * Keeps further chunks from being taken; the one that is being worked on is still finished.
     *
     * @param run its id
     * @return the run
     * @throws InvalidRequestException when there is no such run, or it isn't under way
     * @throws DatabaseException when the database refuses a statement
     */
    BulkRun pause(UUID run);

    /**
     * Lets further chunks be taken again.
     *
     * @param run its id
     * @return the run
     * @throws InvalidRequestException when there is no such run, or it doesn't pause
     * @throws DatabaseException when the database refuses a statement
     */
    BulkRun resume(UUID run);

    /**
     * Ends a run before all is done; what was done stays done.
     *
     * @param run its id
     * @return the run
     * @throws InvalidRequestException when there is no such run, or it has ended
     * @throws DatabaseException when the database refuses a statement
     */
    BulkRun cancel(UUID run);
}
