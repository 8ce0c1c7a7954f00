/** Which records? What a user asked to delete, in the user's words. */
package dev.vacancy.criteria;
