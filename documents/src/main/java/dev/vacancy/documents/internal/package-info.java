/** Which documents are there, what do they hold, and how are they changed as was agreed? */
package dev.vacancy.documents.internal;
