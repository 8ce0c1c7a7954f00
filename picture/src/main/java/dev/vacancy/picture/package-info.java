/** What does it look like? */
package dev.vacancy.picture;
