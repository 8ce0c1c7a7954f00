package dev.vacancy.internal.trail;

/**
 * Entries of one step of a run that stand one behind the other, as they are counted without being read.
 *
 * @param first the first of them
 * @param last the place of the last one
 * @param count how many there are
 * @param withContent how many of them still have the record before
 * @param touched how many of them an erasure or a masking has touched
 * @since 0.1
 */
public record Stretch(Reference first, long last, long count, long withContent, long touched) {
    /**
     * Tells whether all of them say what they said when they were written.
     *
     * @return false if something was erased or masked, or another entry has the record before
     */
    public boolean isUntouched() {
        return withContent == count && touched == 0;
    }
}
