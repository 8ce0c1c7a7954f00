package dev.vacancy.spring;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.springframework.core.Ordered;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/** A transaction of Spring's that Vacancy takes part in: what is to be done after its commit, and whether that has come. */
final class JoinedTransaction implements TransactionSynchronization {
    private final DataSource source;
    private final List<Runnable> tasks = new ArrayList<>();
    /** How many tasks there were at each savepoint. */
    private final Map<Object, Integer> savepoints = new LinkedHashMap<>();

    private boolean ended;

    private JoinedTransaction(DataSource source) {
        this.source = source;
    }

    /** The one that is open on this thread. Those that are suspended have other synchronizations. */
    static JoinedTransaction on(DataSource source) {
        for (TransactionSynchronization known : TransactionSynchronizationManager.getSynchronizations()) {
            if (known instanceof JoinedTransaction joined && joined.source.equals(source)) {
                return joined;
            }
        }
        JoinedTransaction joined = new JoinedTransaction(source);
        TransactionSynchronizationManager.registerSynchronization(joined);
        return joined;
    }

    void afterCommit(Runnable task) {
        tasks.add(task);
    }

    /** Whether it is committed: its connection is still there then, but nothing that is done on it would ever be. */
    boolean hasEnded() {
        return ended;
    }

    /** Before all others, since they may use Vacancy after the commit. */
    @Override
    public int getOrder() {
        return Ordered.HIGHEST_PRECEDENCE;
    }

    @Override
    public void savepoint(Object savepoint) {
        savepoints.put(savepoint, tasks.size());
    }

    @Override
    public void savepointRollback(Object savepoint) {
        Integer known = savepoints.get(savepoint);
        if (known != null) {
            tasks.subList(known, tasks.size()).clear();
        }
    }

    @Override
    public void afterCommit() {
        ended = true;
        tasks.forEach(Runnable::run);
    }

    @Override
    public void afterCompletion(int status) {
        ended = true;
    }
}
