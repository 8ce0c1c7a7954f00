/** How does an approval travel, signed, and is it redeemed once? */
@NullMarked
package dev.vacancy.approvals;

import org.jspecify.annotations.NullMarked;
