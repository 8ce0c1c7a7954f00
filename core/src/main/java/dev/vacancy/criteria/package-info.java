/** Which records? What a user asked to delete, and the conditions that pick records. */
package dev.vacancy.criteria;
