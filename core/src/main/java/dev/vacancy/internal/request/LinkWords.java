package dev.vacancy.internal.request;

import dev.vacancy.catalog.Link;
import dev.vacancy.internal.catalog.CatalogTable;

/**
 * How it is said what becomes of a link.
 *
 * @since 0.1
 */
public final class LinkWords {
    private LinkWords() {}

    /**
     * Tells whether a link is detached in documents, where a field is taken away, or what goes is taken out of it.
     *
     * @param link the link
     * @return false where a foreign key is set to null
     */
    public static boolean isOfDocuments(Link link) {
        return CatalogTable.of(link.child()).conversion().takesDocuments();
    }
}
