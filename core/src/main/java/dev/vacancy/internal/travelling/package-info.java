/** How does an approval travel, and is it redeemed once? */
package dev.vacancy.internal.travelling;
