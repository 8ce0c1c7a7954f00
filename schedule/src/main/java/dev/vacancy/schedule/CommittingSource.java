package dev.vacancy.schedule;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/** A data source whose connections commit by themselves as long as somebody has them, whatever the pool has said of them. */
final class CommittingSource {
    private CommittingSource() {}

    static DataSource over(DataSource source) {
        return (DataSource) Proxy.newProxyInstance(
                CommittingSource.class.getClassLoader(),
                new Class<?>[] {DataSource.class},
                (proxy, method, arguments) -> {
                    Object result = call(source, method, arguments);
                    return result instanceof Connection connection && !connection.getAutoCommit()
                            ? committing(connection)
                            : result;
                });
    }

    private static Connection committing(Connection connection) throws SQLException {
        connection.setAutoCommit(true);
        return (Connection) Proxy.newProxyInstance(
                CommittingSource.class.getClassLoader(),
                new Class<?>[] {Connection.class},
                (proxy, method, arguments) -> {
                    if (method.getName().equals("close") && !connection.isClosed()) {
                        connection.setAutoCommit(false);
                    }
                    return call(connection, method, arguments);
                });
    }

    private static @Nullable Object call(Object target, Method method, @Nullable Object[] arguments) throws Throwable {
        try {
            return method.invoke(target, arguments);
        } catch (InvocationTargetException failed) {
            throw failed.getCause();
        }
    }
}
