package dev.vacancy.internal.catalog;

import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;

/** Names between people and the database: how they are shown, found again, and corrected. */
final class Names {
    private Names() {}

    /** Finds by the exact stored or shown name first, then in any case if that fits one thing only. */
    static <T> Optional<T> find(String given, List<T> things, Function<T, String> stored, Function<T, String> shown) {
        Optional<T> exact = only(things, thing -> stored.apply(thing).equals(given));
        if (exact.isEmpty()) {
            exact = only(things, thing -> shown.apply(thing).equals(given));
        }
        return exact.isPresent()
                ? exact
                : only(
                        things,
                        thing -> stored.apply(thing).equalsIgnoreCase(given)
                                || shown.apply(thing).equalsIgnoreCase(given));
    }

    /** Says which name was probably meant, or which there are. */
    static String suggestion(String given, List<String> known) {
        String wanted = given.toLowerCase(Locale.ROOT);
        Optional<String> nearest = known.stream()
                .min(Comparator.comparingInt(name -> EditDistance.between(wanted, name.toLowerCase(Locale.ROOT))));
        if (nearest.isEmpty()) {
            return "There are none; check the schema and the user's rights.";
        }
        int distance = EditDistance.between(wanted, nearest.get().toLowerCase(Locale.ROOT));
        return distance <= Math.max(2, given.length() / 3)
                ? "Did you mean '" + nearest.get() + "'?"
                : "There are: " + String.join(", ", known) + ".";
    }

    private static <T> Optional<T> only(List<T> things, java.util.function.Predicate<T> wanted) {
        List<T> found = things.stream().filter(wanted).limit(2).toList();
        return found.size() == 1 ? Optional.of(found.get(0)) : Optional.empty();
    }
}
