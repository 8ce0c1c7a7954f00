package dev.vacancy.internal.planning;

import dev.vacancy.Emptying;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.store.Fingerprint;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.UUID;

/** Digests what was asked for: each key by itself, as its table has it, and never the words for it. */
public final class RequestDigest {
    private RequestDigest() {}

    /**
     * Digests a selection.
     *
     * @param selection what is to be deleted
     * @param catalog the tables that it names
     * @return 64 hexadecimal digits, SHA-256 (FIPS 180-4)
     */
    public static String of(Selection selection, Catalog catalog) {
        Table table = catalog.table(selection.table());
        Fingerprint digest = new Fingerprint().add("delete", table.schema(), table.storedName());
        digest.add(selection.keys().size());
        selection
                .keys()
                .forEach(key -> digest.addAll(
                        RecordKey.of(GivenKeys.resolve(key, table)).storable()));
        digest.add(
                selection.criteria().map(Object::toString).orElse(""),
                selection.isOfAllRecords(),
                selection.expected(),
                selection.most(),
                selection.isHard(),
                selection.isPurge(),
                selection.isSkippingBlocked());
        Map<String, List<Object>> newParents = new TreeMap<>();
        selection.newParents().forEach((where, key) -> {
            Link link = catalog.link(where);
            newParents.put(
                    link.where(),
                    RecordKey.of(GivenKeys.resolve(key, link.parent())).storable());
        });
        newParents.forEach((link, key) -> digest.add(link).addAll(key));
        return digest.hex();
    }

    /**
     * Digests the wish to empty a table.
     *
     * @param emptying the wish
     * @param catalog the tables
     * @return 64 hexadecimal digits
     */
    public static String of(Emptying emptying, Catalog catalog) {
        Table table = catalog.table(emptying.table());
        return new Fingerprint()
                .add("empty", table.schema(), table.storedName(), emptying.passingOverTriggers())
                .hex();
    }

    /**
     * Digests the wish to undo a run.
     *
     * @param run the run
     * @param only the record that comes back with what went with it, table and key; empty for all of the run
     * @return 64 hexadecimal digits
     */
    public static String ofRestore(UUID run, Optional<String> only) {
        return ofParts("restore", run, only.orElse(""));
    }

    /**
     * Digests the wish to mask a text.
     *
     * @param text the text
     * @return 64 hexadecimal digits
     */
    public static String ofMasking(String text) {
        return ofParts("mask", text);
    }

    /**
     * Digests the wish to erase a record from the trail.
     *
     * @param table its table
     * @param key its key, as the trail spells it
     * @return 64 hexadecimal digits
     */
    public static String ofErasure(Table table, String key) {
        return ofParts("erase", table.schema(), table.storedName(), key);
    }

    /**
     * Digests the wish to erase all that is known of a person.
     *
     * @param table the table of the person's record
     * @param key its key, as the trail spells it
     * @return 64 hexadecimal digits
     */
    public static String ofTrace(Table table, String key) {
        return ofParts("trace", table.schema(), table.storedName(), key);
    }

    /**
     * Digests any other request.
     *
     * @param parts what it consists of, in their order
     * @return 64 hexadecimal digits
     */
    public static String ofParts(Object... parts) {
        return new Fingerprint().add(parts).hex();
    }
}
