package dev.vacancy.retirement;

import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;

/** A data source of a process that dies: from some statement on nothing more is said to the database, and what wasn't committed is gone. */
final class DyingSource {
    private final AtomicInteger left;

    private DyingSource(int statements) {
        this.left = new AtomicInteger(statements);
    }

    /** Dies when so many statements were executed that are no prepared ones. */
    static DataSource after(int statements, DataSource source) {
        DyingSource dying = new DyingSource(statements);
        return proxy(DataSource.class, (proxy, method, arguments) -> {
            Object result = call(source, method, arguments);
            return result instanceof Connection connection ? dying.connection(connection) : result;
        });
    }

    private Connection connection(Connection connection) {
        return proxy(Connection.class, (proxy, method, arguments) -> {
            if (left.get() <= 0
                    && !Set.of("close", "isClosed", "setAutoCommit", "rollback").contains(method.getName())) {
                throw new SQLException("The process has died", "08006");
            }
            if (left.get() <= 0 && method.getName().equals("setAutoCommit")) {
                return null;
            }
            if (left.get() <= 0 && method.getName().equals("close")) {
                connection.rollback();
            }
            Object result = call(connection, method, arguments);
            boolean plain = method.getName().equals("createStatement");
            return plain ? statement((Statement) result) : result;
        });
    }

    private Statement statement(Statement statement) {
        return proxy(Statement.class, (proxy, method, arguments) -> {
            Object result = call(statement, method, arguments);
            if (method.getName().equals("execute") && left.decrementAndGet() == 0) {
                throw new SQLException("The process has died", "08006");
            }
            return result;
        });
    }

    private static Object call(Object of, Method method, Object[] arguments) throws Throwable {
        try {
            return method.invoke(of, arguments);
        } catch (InvocationTargetException failure) {
            throw failure.getCause();
        }
    }

    private static <T> T proxy(Class<T> type, InvocationHandler handler) {
        return type.cast(Proxy.newProxyInstance(DyingSource.class.getClassLoader(), new Class<?>[] {type}, handler));
    }
}
