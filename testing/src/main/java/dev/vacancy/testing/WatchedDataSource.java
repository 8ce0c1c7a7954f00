package dev.vacancy.testing;

import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;

/** Data sources that watch what is done with their connections. */
final class WatchedDataSource {
    private WatchedDataSource() {}

    static DataSource over(DataSource source, AtomicInteger statements) {
        return proxy(DataSource.class, (proxy, method, arguments) -> {
            Object result = method.invoke(source, arguments);
            return result instanceof Connection connection ? counting(connection, statements) : result;
        });
    }

    static DataSource always(Connection connection) {
        Connection open = proxy(
                Connection.class,
                (proxy, method, arguments) ->
                        method.getName().equals("close") ? null : method.invoke(connection, arguments));
        return proxy(DataSource.class, (proxy, method, arguments) -> open);
    }

    private static Connection counting(Connection connection, AtomicInteger statements) {
        return proxy(Connection.class, (proxy, method, arguments) -> {
            if (method.getName().equals("prepareStatement")) {
                statements.incrementAndGet();
            }
            return method.invoke(connection, arguments);
        });
    }

    private static <T> T proxy(Class<T> type, InvocationHandler handler) {
        InvocationHandler unwrapping = (proxy, method, arguments) -> {
            try {
                return handler.invoke(proxy, method, arguments);
            } catch (InvocationTargetException failure) {
                throw failure.getCause();
            }
        };
        return type.cast(Proxy.newProxyInstance(type.getClassLoader(), new Class<?>[] {type}, unwrapping));
    }
}
