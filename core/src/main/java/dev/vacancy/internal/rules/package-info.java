/** What do the rules mean for the links and tables of a catalog? */
package dev.vacancy.internal.rules;
