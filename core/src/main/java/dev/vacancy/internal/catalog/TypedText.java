package dev.vacancy.internal.catalog;

/**
 * A value that another one of another type may look like, such as an id and the text of its digits.
 *
 * @since 0.1
 */
public interface TypedText {
    /** {@return a text that no value of another type has} */
    String typed();
}
