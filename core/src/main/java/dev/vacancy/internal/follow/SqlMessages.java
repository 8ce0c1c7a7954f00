package dev.vacancy.internal.follow;

import dev.vacancy.DatabaseException;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.ConflictRetry;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/** Messages in tables of a relational database, each call in a transaction of its own. */
public final class SqlMessages implements MessageStore {
    private final Transactions transactions;
    private final Dialect dialect;
    private final FollowUpTables tables;
    private final Collecting collecting;

    /**
     * Opens the messages.
     *
     * @param rules the rules, with follow-ups among them
     * @param dialect the dialect of the database
     * @param transactions where the work is done
     */
    public SqlMessages(Rules rules, Dialect dialect, Transactions transactions) {
        this.transactions = transactions;
        this.dialect = dialect;
        this.tables = new FollowUpTables(dialect, rules.catalog());
        this.collecting = Collecting.of(rules, dialect).orElseThrow(FollowUpWork::nothingFollows);
    }

    @Override
    public Taken take(String name, Instant now, Instant until, int most) {
        return writing("take messages", connection -> {
            tables.lockPosition(connection, name);
            List<FollowUpMessage> due = tables.due(connection, name, now, most);
            boolean more = due.isEmpty() && collecting.next(connection, name);
            if (more) {
                due = tables.due(connection, name, now, most);
            }
            return new Taken(due.isEmpty() ? due : tables.claim(connection, due, now, until), more);
        });
    }

    @Override
    public boolean readOn(String name) {
        return writing("read the audit trail", connection -> collecting.next(connection, name));
    }

    @Override
    public int remove(List<UUID> ids) {
        return writing("note that messages were handled, or given up", connection -> {
            tables.beginWriting(connection);
            return tables.remove(connection, ids);
        });
    }

    @Override
    public void fail(UUID id, FollowUpState state, Instant due, String failure) {
        this.<Void>writing("note that a message wasn't handled", connection -> {
            tables.beginWriting(connection);
            tables.fail(connection, id, state, due, failure);
            return null;
        });
    }

    @Override
    public void release(UUID id, Instant due) {
        this.<Void>writing("give a message back", connection -> {
            tables.beginWriting(connection);
            tables.release(connection, id, due);
            return null;
        });
    }

    @Override
    public boolean again(UUID id, Instant now) {
        return writing("send a message again", connection -> {
            tables.beginWriting(connection);
            return tables.again(connection, id, now);
        });
    }

    @Override
    public List<FollowUpMessage> list(int most) {
        return transactions.reading(connection -> tables.list(connection, most));
    }

    @Override
    public long count(FollowUpState state) {
        return transactions.reading(connection -> tables.count(connection, state));
    }

    @Override
    public Optional<FollowUpMessage> find(UUID id) {
        return transactions.reading(connection -> tables.find(connection, id));
    }

    /** Others work on the same tables, so that a database may end one of two transactions. */
    private <T> T writing(String what, Work<T> work) {
        return ConflictRetry.writing(transactions, dialect, "what follows runs", connection -> {
            try {
                return work.on(connection);
            } catch (SQLException failure) {
                if (dialect.isLockFailure(failure)) {
                    throw failure;
                }
                throw new DatabaseException(what, "It is tried again by whoever works next.", failure);
            } catch (DatabaseException failure) {
                if (failure.getCause() instanceof SQLException cause && dialect.isLockFailure(cause)) {
                    throw cause;
                }
                throw failure;
            }
        });
    }
}
