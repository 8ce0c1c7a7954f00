package dev.vacancy.declared;

import static java.util.Objects.requireNonNull;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Table;
import java.lang.reflect.InvocationHandler;
import java.lang.reflect.Method;
import java.lang.reflect.Modifier;
import java.lang.reflect.Proxy;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Deletions that an application declares as methods of an interface of its own.
 *
 * <pre>{@code
 * @DeletesFrom("hive")
 * interface Hives {
 *     Question ask(int hive, By by);                                     // one, by its key
 *
 *     @Picks("apiary.village = :village and set_up_on < :before")
 *     Outcome deleteIn(String village, LocalDate before, By by);
 * }
 *
 * Hives hives = DeclaredOperations.of(vacancy, Hives.class);
 * }</pre>
 *
 * <p>What a method does is told by what it returns: a {@link dev.vacancy.Plan} or {@link dev.vacancy.Question} only looks, an
 * {@link dev.vacancy.Outcome}, the number of its records as a {@code long} or {@code int}, or nothing deletes, as
 * {@link Vacancy#delete(dev.vacancy.Selection, dev.vacancy.By)} does. One parameter is the {@link dev.vacancy.By}; each of the others is a part of the key in its order, or is named in the criteria. A collection
 * stands for several: as the only part of a key, or in a list such as {@code village in (:villages)}.
 *
 * <p>All is checked against the catalog at once, so that what is misspelt or of another type is told at the start and not at the first call.
 *
 * @since 0.1
 */
public final class DeclaredOperations {
    private DeclaredOperations() {}

    /**
     * Implements an interface.
     *
     * @param vacancy what carries the deletions out; one that joins a transaction, acts for somebody or has listeners does so here too
     * @param type the interface, with {@link DeletesFrom}; its default methods stay as they are
     * @param <T> the same
     * @return the implementation, safe for use by many threads as far as {@code vacancy} is
     * @throws InvalidRequestException with all that is wrong with the interface: a table, column or link that isn't there, a parameter of another type
     *     than its column or that nothing uses
     */
    public static <T> T of(Vacancy vacancy, Class<T> type) {
        requireNonNull(vacancy, "vacancy");
        DeletesFrom from = type.getAnnotation(DeletesFrom.class);
        if (!type.isInterface() || from == null) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    type.getName() + " isn't an interface with @DeletesFrom.",
                    "Name the table whose records its methods delete.");
        }
        Table table = vacancy.catalog().table(from.value());
        Map<Method, Operation> operations = operations(type, vacancy, table);
        InvocationHandler calls = (proxy, method, arguments) -> {
            Object[] given = arguments == null ? new Object[0] : arguments;
            if (method.isDefault()) {
                return InvocationHandler.invokeDefault(proxy, method, given);
            }
            return method.getDeclaringClass() == Object.class
                    ? ofAnyObject(type, proxy, method, given)
                    : operation(operations, method).call(given);
        };
        return type.cast(Proxy.newProxyInstance(type.getClassLoader(), new Class<?>[] {type}, calls));
    }

    private static Map<Method, Operation> operations(Class<?> type, Vacancy vacancy, Table table) {
        Map<Method, Operation> operations = new HashMap<>();
        List<String> problems = new ArrayList<>();
        List<Method> methods = new ArrayList<>(List.of(type.getMethods()));
        methods.sort(Comparator.comparing(Method::toString));
        for (Method method : methods) {
            if (Modifier.isAbstract(method.getModifiers())) {
                try {
                    operations.put(method, Operation.of(method, vacancy, table));
                } catch (InvalidRequestException wrong) {
                    problems.add(type.getSimpleName() + "." + method.getName() + ": " + wrong.getMessage());
                }
            }
        }
        if (!problems.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    String.join(System.lineSeparator(), problems),
                    "Correct " + type.getName() + ".");
        }
        return operations;
    }

    private static Operation operation(Map<Method, Operation> operations, Method method) {
        return requireNonNull(operations.get(method), method::toString);
    }

    private static Object ofAnyObject(Class<?> type, Object proxy, Method method, @Nullable Object[] given) {
        return switch (method.getName()) {
            case "equals" -> proxy == given[0];
            case "hashCode" -> System.identityHashCode(proxy);
            default -> "deletions declared by " + type.getName();
        };
    }
}
