/** How does an approval travel, signed, and is it redeemed once? */
package dev.vacancy.approvals;
