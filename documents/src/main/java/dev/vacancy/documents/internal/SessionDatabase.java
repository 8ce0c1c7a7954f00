package dev.vacancy.documents.internal;

import com.mongodb.client.ClientSession;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoDatabase;
import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.util.Arrays;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A database whose commands are all of one session. The driver has each of them with a session as well; so whoever works on a database needn't know whether it
 * is in a transaction.
 *
 * @param of the database, or a collection in it
 * @param session the session
 */
record SessionDatabase(Object of, ClientSession session) implements InvocationHandler {
    /** The database, in a session. */
    static MongoDatabase of(MongoDatabase database, ClientSession session) {
        return (MongoDatabase) bound(MongoDatabase.class, database, session);
    }

    private static Object bound(Class<?> type, Object of, ClientSession session) {
        return Proxy.newProxyInstance(type.getClassLoader(), new Class<?>[] {type}, new SessionDatabase(of, session));
    }

    @Override
    public Object invoke(Object proxy, Method method, Object[] arguments) throws Throwable {
        Object[] given = arguments == null ? new Object[0] : arguments;
        Optional<Method> inSession = inSession(method);
        Object answer = inSession.isPresent()
                ? call(
                        inSession.get(),
                        Stream.concat(Stream.of(session), Stream.of(given)).toArray())
                : call(method, given);
        if (answer instanceof MongoCollection) {
            return bound(MongoCollection.class, answer, session);
        }
        return answer instanceof MongoDatabase ? bound(MongoDatabase.class, answer, session) : answer;
    }

    private Object call(Method method, Object[] arguments) throws Throwable {
        try {
            return method.invoke(of, arguments);
        } catch (InvocationTargetException failure) {
            throw failure.getCause();
        }
    }

    private static Optional<Method> inSession(Method method) {
        Class<?>[] types = Stream.concat(Stream.of(ClientSession.class), Stream.of(method.getParameterTypes()))
                .toArray(Class<?>[]::new);
        return Stream.of(method.getDeclaringClass().getMethods())
                .filter(other ->
                        other.getName().equals(method.getName()) && Arrays.equals(other.getParameterTypes(), types))
                .findFirst();
    }
}
