package dev.vacancy.declared;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.request.CriteriaNode;
import dev.vacancy.internal.request.CriteriaText;
import java.time.Clock;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Looks at a criteria with parameters before there are values. */
final class CriteriaCheck {
    /** No text of a criteria has such a character, so that a pattern that is a parameter is known. */
    private static final String MARK = "\u0000";

    private final Table table;
    private final DatabaseCatalog catalog;
    private final Map<String, MethodParameter> parameters;
    private final Set<String> used = new HashSet<>();

    CriteriaCheck(Table table, Catalog catalog, Map<String, MethodParameter> parameters) {
        this.table = table;
        this.catalog = (DatabaseCatalog) catalog;
        this.parameters = parameters;
    }

    /** A value that isn't there yet. */
    private record Placeholder(MethodParameter parameter) {
        @Override
        public String toString() {
            return MARK + parameter.name();
        }
    }

    void check(String text) {
        check(CriteriaText.parse(text, this::placeholder));
        for (String name : parameters.keySet()) {
            if (!used.contains(name)) {
                throw Operation.wrong(
                        "Its criteria doesn't use the parameter " + name + ".",
                        "Write :" + name + " in it, or leave the parameter out.");
            }
        }
    }

    private Placeholder placeholder(String name) {
        MethodParameter parameter = parameters.get(name);
        if (parameter == null) {
            throw Operation.wrong(
                    "Its criteria has :" + name + ", which is no parameter.",
                    "There are: "
                            + String.join(
                                    ", ", parameters.keySet().stream().sorted().toList()) + ".");
        }
        used.add(name);
        return new Placeholder(parameter);
    }

    private void check(Criteria criteria) {
        if (criteria instanceof CriteriaNode.Not not) {
            check(not.part());
        } else if (criteria instanceof CriteriaNode.And || criteria instanceof CriteriaNode.Or) {
            CriteriaNode.operands(criteria).forEach(this::check);
        } else if (criteria instanceof CriteriaNode.Compares compares
                && compares.value() instanceof Placeholder placeholder) {
            check(compares.column(), placeholder.parameter(), false);
        } else if (criteria instanceof CriteriaNode.In in
                && in.values().stream().anyMatch(Placeholder.class::isInstance)) {
            in.values().stream()
                    .filter(Placeholder.class::isInstance)
                    .forEach(placeholder -> check(in.column(), ((Placeholder) placeholder).parameter(), true));
        } else if (criteria instanceof CriteriaNode.Like like && like.pattern().startsWith(MARK)) {
            checkLike(like);
        } else {
            Resolution.part(criteria, table, catalog, Clock.systemUTC());
        }
    }

    private void check(String column, MethodParameter parameter, boolean severalAllowed) {
        if (parameter.isSeveral() && !severalAllowed) {
            throw Operation.wrong(
                    "The collection " + parameter.name() + " is compared as one value.",
                    "Write " + column + " in (:" + parameter.name() + ").");
        }
        parameter.requireToFit(Resolution.column(column, table, catalog));
    }

    private void checkLike(CriteriaNode.Like like) {
        MethodParameter pattern = parameters.get(like.pattern().substring(MARK.length()));
        if (pattern == null || !pattern.isOf(String.class)) {
            throw Operation.wrong(
                    "The pattern of " + like.column() + " isn't a String.", "Give the parameter that type.");
        }
        Resolution.part(new CriteriaNode.Like(like.column(), "x"), table, catalog, Clock.systemUTC());
    }

    /** A value that a call gives. */
    static Object required(String name, @Nullable Object value) {
        if (value == null) {
            throw new InvalidRequestException(
                    FailureCode.MISSING_VALUE,
                    "The parameter " + name + " is null, and a comparison with null picks nothing.",
                    "Give a value, or declare a method that asks for IS NULL.");
        }
        return value;
    }
}
