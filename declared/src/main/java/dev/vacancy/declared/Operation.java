package dev.vacancy.declared;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Table;
import java.lang.reflect.Method;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** What a call of one method does. */
final class Operation {
    /** What a method does, by what it returns. */
    private static final Map<Class<?>, Action> ACTIONS = Map.of(
            Plan.class, (vacancy, selection, by) -> vacancy.plan(selection, by),
            Question.class, (vacancy, selection, by) -> Question.about(vacancy.plan(selection, by)),
            Outcome.class, (vacancy, selection, by) -> vacancy.delete(selection, by),
            long.class,
                    (vacancy, selection, by) -> vacancy.delete(selection, by).total(),
            int.class,
                    (vacancy, selection, by) ->
                            Math.toIntExact(vacancy.delete(selection, by).total()),
            void.class,
                    (vacancy, selection, by) -> {
                        vacancy.delete(selection, by);
                        return null;
                    });

    private final Vacancy vacancy;
    private final Action action;
    private final Selector selector;
    private final int byPlace;

    private Operation(Vacancy vacancy, Action action, Selector selector, int byPlace) {
        this.vacancy = vacancy;
        this.action = action;
        this.selector = selector;
        this.byPlace = byPlace;
    }

    private interface Action {
        @Nullable
        Object carryOut(Vacancy vacancy, Selection selection, By by);
    }

    static Operation of(Method method, Vacancy vacancy, Table table) {
        Action action = ACTIONS.get(method.getReturnType());
        if (action == null) {
            throw wrong(
                    "It returns " + method.getReturnType().getSimpleName() + ".",
                    "Return a Plan or Question to look, an Outcome, a long, an int or nothing to delete.");
        }
        List<MethodParameter> all = IntStream.range(0, method.getParameterCount())
                .mapToObj(place -> new MethodParameter(method.getParameters()[place], place))
                .toList();
        List<MethodParameter> by =
                all.stream().filter(given -> given.isOf(By.class)).toList();
        if (by.size() != 1) {
            throw wrong("It has " + by.size() + " parameters of the type By.", "Say by one who wants it.");
        }
        List<MethodParameter> values = new ArrayList<>(all);
        values.removeAll(by);
        Picks picks = method.getAnnotation(Picks.class);
        Selector selector = picks == null
                ? Selector.byKey(table, values)
                : Selector.byCriteria(picks, table, vacancy.catalog(), values);
        return new Operation(vacancy, action, selector, by.get(0).place());
    }

    @Nullable
    Object call(@Nullable Object[] given) {
        if (!(given[byPlace] instanceof By by)) {
            throw wrong("Nobody is named who wants it.", "Give a By.");
        }
        return action.carryOut(vacancy, selector.selection(given), by);
    }

    static InvalidRequestException wrong(String problem, String remedy) {
        return new InvalidRequestException(FailureCode.USAGE, problem, remedy);
    }
}
