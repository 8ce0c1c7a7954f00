package dev.vacancy.declared;

import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.request.CriteriaText;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Makes a selection of what a method is called with. */
interface Selector {
    Selection selection(@Nullable Object[] given);

    /** One record by the parts of its key, or several by theirs. */
    static Selector byKey(Table table, List<MethodParameter> values) {
        List<Column> key = table.identity();
        if (key.isEmpty() || values.size() != key.size()) {
            throw Operation.wrong(
                    "It has " + values.size() + " parameters beside the By, and the key of " + table.name() + " has "
                            + key.size() + " columns.",
                    "Give it a parameter for each, or say by @Picks which records it picks.");
        }
        for (int i = 0; i < key.size(); i++) {
            values.get(i).requireToFit(key.get(i));
        }
        Selection.From from = Selection.of(table.name());
        if (values.stream().noneMatch(MethodParameter::isSeveral)) {
            return given ->
                    from.key(values.stream().map(value -> given[value.place()]).toArray());
        }
        if (values.size() > 1) {
            throw Operation.wrong(
                    "A collection stands for a part of a key.",
                    "Take collections of whole keys only, where these are of one column.");
        }
        MethodParameter keys = values.get(0);
        return given -> from.keys((Collection<?>) Objects.requireNonNull(given[keys.place()], keys::name));
    }

    /** The records that meet a criteria with the values in their places. */
    static Selector byCriteria(Picks picks, Table table, Catalog catalog, List<MethodParameter> values) {
        Map<String, MethodParameter> byName =
                values.stream().collect(Collectors.toMap(MethodParameter::name, value -> value));
        new CriteriaCheck(table, catalog, byName).check(picks.value());
        Selection.From from = Selection.of(table.name());
        return given -> {
            Map<String, @Nullable Object> named = new HashMap<>();
            values.forEach(value -> named.put(value.name(), given[value.place()]));
            Criteria criteria =
                    CriteriaText.parse(picks.value(), name -> CriteriaCheck.required(name, named.get(name)));
            Selection selection = from.where(criteria);
            selection = picks.hard() ? selection.hard() : selection;
            return picks.atMost() == Long.MAX_VALUE ? selection : selection.atMost(picks.atMost());
        };
    }
}
