/** How long does it take, beside SQL by hand and the database's own cascade? Programs that measure; nothing builds on them. */
package dev.vacancy.bench;
