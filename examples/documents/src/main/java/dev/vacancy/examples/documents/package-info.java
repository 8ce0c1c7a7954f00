/** The demo's data as documents. */
package dev.vacancy.examples.documents;
