package dev.vacancy.internal.running;

import dev.vacancy.internal.dialect.Fragment;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Sends all steps of a run in one round trip. It can't tell which of them was refused, so what doesn't go as planned is taken
 * back and left to be done step by step.
 */
final class Pipeline {
    private static final Logger LOG = LoggerFactory.getLogger(Pipeline.class);
    private static final String BEFORE = "vacancy_before_steps";

    private final List<Execution.Change> changes;
    private final Optional<CascadeProof> proof;
    private final Connection connection;

    /**
     * Takes the statements.
     *
     * @param changes each a statement
     */
    Pipeline(List<Execution.Change> changes, Optional<CascadeProof> proof, Connection connection) {
        this.changes = changes;
        this.proof = proof;
        this.connection = connection;
    }

    /**
     * Carries out the steps.
     *
     * @return how many records went that the plan hadn't counted; empty if nothing was changed, as not every step has changed as
     *     many as the plan says
     */
    Optional<DeletedCounts> carryOut() throws SQLException {
        try (PreparedStatement together = Fragment.sequence(statements()).prepare(connection)) {
            together.execute();
            Optional<DeletedCounts> deleted = asPlanned(together);
            if (deleted.isPresent()) {
                return deleted;
            }
        } catch (SQLException refused) {
            LOG.debug("The steps were refused together, and are done one by one", refused);
        }
        try (PreparedStatement back = connection.prepareStatement("rollback to savepoint " + BEFORE)) {
            back.execute();
        }
        return Optional.empty();
    }

    private List<Fragment> statements() {
        List<Fragment> statements = new ArrayList<>();
        statements.add(Fragment.of("savepoint " + BEFORE));
        proof.ifPresent(asked -> statements.add(asked.query()));
        changes.forEach(change -> statements.add(change.statement().orElseThrow()));
        proof.ifPresent(asked -> statements.add(asked.query()));
        return statements;
    }

    private Optional<DeletedCounts> asPlanned(PreparedStatement together) throws SQLException {
        DeletedCounts deleted = new DeletedCounts();
        List<OptionalLong> before = proof.isPresent() ? counted(together, proof.get()) : List.of();
        for (Execution.Change change : changes) {
            together.getMoreResults();
            long changed = together.getLargeUpdateCount();
            if (change.step().isCounted() && changed != change.step().count()) {
                return Optional.empty();
            }
            deleted.add(change.step(), changed);
        }
        if (proof.isPresent()) {
            proof.get().compare(before, counted(together, proof.get()), deleted);
        }
        return Optional.of(deleted);
    }

    private static List<OptionalLong> counted(PreparedStatement together, CascadeProof proof) throws SQLException {
        together.getMoreResults();
        try (ResultSet row = together.getResultSet()) {
            return proof.read(row);
        }
    }
}
