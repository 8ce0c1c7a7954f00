package dev.vacancy.internal.running;

import dev.vacancy.Proposal;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import java.util.UUID;

/** Writes in the transaction of a run, before anything is read and after all is done. */
public interface RunParticipant {
    /** Writes nothing. */
    RunParticipant NOBODY = new RunParticipant() {
        @Override
        public void before(Connection connection) {
            // There is nothing to write.
        }

        @Override
        public void after(Connection connection, UUID run, Proposal done) {
            // There is nothing to write.
        }
    };

    /**
     * Comes first.
     *
     * @param connection in the transaction of the run
     * @throws SQLException when the database refuses
     */
    void before(Connection connection) throws SQLException;

    /**
     * Comes last, before the commit.
     *
     * @param connection in the transaction of the run
     * @param run its id
     * @param done what it did
     * @throws SQLException when the database refuses
     */
    void after(Connection connection, UUID run, Proposal done) throws SQLException;

    /**
     * Tells whether the transaction in which it has written was committed.
     *
     * @param connection in another transaction, later
     * @return empty where it has written nothing that tells
     * @throws SQLException when the database refuses
     */
    default Optional<Boolean> happened(Connection connection) throws SQLException {
        return Optional.empty();
    }
}
