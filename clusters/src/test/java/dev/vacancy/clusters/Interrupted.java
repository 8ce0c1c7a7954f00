package dev.vacancy.clusters;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.Statement;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BooleanSupplier;
import java.util.function.Supplier;
import javax.sql.DataSource;

/** Data sources with something that happens just before a statement, or a commit, of those who use them. */
final class Interrupted {
    private Interrupted() {}

    /** Does something before the n-th statement is sent, from 1, once it is armed; commits count as statements. */
    static DataSource beforeStatement(int number, DataSource source, BooleanSupplier armed, Runnable action) {
        AtomicInteger sent = new AtomicInteger();
        return source(() -> source, method -> {
            boolean isStatement = method.startsWith("execute") || method.equals("commit");
            if (armed.getAsBoolean() && isStatement && sent.incrementAndGet() == number) {
                action.run();
            }
        });
    }

    /** Does something before the commit of what is written, once it is armed; connections may come from another source from then on. */
    static DataSource beforeWrittenCommit(Supplier<DataSource> source, BooleanSupplier armed, Runnable action) {
        AtomicBoolean written = new AtomicBoolean();
        AtomicBoolean done = new AtomicBoolean();
        return source(source, method -> {
            if (armed.getAsBoolean() && (method.startsWith("executeLargeUpdate") || method.equals("executeBatch"))) {
                written.set(true);
            }
            if (written.get() && method.equals("commit") && done.compareAndSet(false, true)) {
                action.run();
            }
        });
    }

    /** Is told of each call by its name. */
    private interface Witness {
        void before(String method);
    }

    private static DataSource source(Supplier<DataSource> source, Witness witness) {
        return proxy(DataSource.class, source, witness);
    }

    private static <T> T proxy(Class<T> type, Supplier<? extends T> target, Witness witness) {
        return type.cast(Proxy.newProxyInstance(
                Interrupted.class.getClassLoader(), new Class<?>[] {type}, (self, method, arguments) -> {
                    witness.before(method.getName());
                    try {
                        return wrapped(method.invoke(target.get(), arguments), witness);
                    } catch (InvocationTargetException failure) {
                        throw failure.getCause();
                    }
                }));
    }

    private static Object wrapped(Object result, Witness witness) {
        if (result instanceof Connection connection) {
            return proxy(Connection.class, () -> connection, witness);
        }
        if (result instanceof PreparedStatement statement) {
            return proxy(PreparedStatement.class, () -> statement, witness);
        }
        return result instanceof Statement statement ? proxy(Statement.class, () -> statement, witness) : result;
    }
}
