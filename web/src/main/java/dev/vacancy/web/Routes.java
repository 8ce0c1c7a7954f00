package dev.vacancy.web;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;

/** What can be asked for at which address, by which method. */
final class Routes {
    private static final Set<String> OWN = Set.of("runs", "history", "holds");

    private final List<Route> routes = new ArrayList<>();
    private final Predicate<String> isTable;

    /**
     * Has no route yet.
     *
     * @param isTable whether a table is offered by a name, though something else is called so too
     */
    Routes(Predicate<String> isTable) {
        this.isTable = isTable;
    }

    /** Answers a request. */
    @FunctionalInterface
    interface Handler {
        Answer handle(Exchange exchange) throws IOException;
    }

    /**
     * One of them.
     *
     * @param method the method of HTTP; GET stands for HEAD too
     * @param pattern the segments of the path, of which a star stands for any
     * @param type the type of what comes back
     * @param handler answers it
     */
    record Route(String method, List<String> pattern, String type, Handler handler) {
        private boolean isAt(List<String> path, Predicate<String> isTable) {
            boolean ofTable = path.isEmpty() || !OWN.contains(path.get(0)) || isTable.test(path.get(0));
            if (path.size() != pattern.size() || (pattern.get(0).equals("*") && !ofTable)) {
                return false;
            }
            for (int i = 0; i < pattern.size(); i++) {
                if (!pattern.get(i).equals("*") && !pattern.get(i).equals(path.get(i))) {
                    return false;
                }
            }
            return true;
        }

        /** Whether anything is changed by it. */
        boolean changes() {
            return !method.equals("GET");
        }
    }

    /** Adds one; of two that fit, the first counts. */
    Routes add(String method, String pattern, Handler handler) {
        return add(method, pattern, "application/json", handler);
    }

    Routes add(String method, String pattern, String type, Handler handler) {
        routes.add(new Route(method, List.of(pattern.split("/", -1)), type, handler));
        return this;
    }

    /** Finds one. */
    Optional<Route> find(String method, List<String> path) {
        String asked = method.equals("HEAD") ? "GET" : method;
        return routes.stream()
                .filter(route -> route.method().equals(asked) && !path.isEmpty() && route.isAt(path, isTable))
                .findFirst();
    }

    /** The methods that an address takes, as {@code Allow} names them (RFC 9110, section 10.2.1); none where there is nothing. */
    List<String> methods(List<String> path) {
        TreeSet<String> methods = new TreeSet<>();
        routes.stream()
                .filter(route -> !path.isEmpty() && route.isAt(path, isTable))
                .forEach(route -> methods.add(route.method()));
        if (methods.contains("GET")) {
            methods.add("HEAD");
        }
        if (!methods.isEmpty()) {
            methods.add("OPTIONS");
        }
        return List.copyOf(methods);
    }
}
