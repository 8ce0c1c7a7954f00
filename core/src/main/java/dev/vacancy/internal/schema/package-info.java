/** How is a catalog read? From JDBC metadata, as each database's dialect understands it. */
package dev.vacancy.internal.schema;
