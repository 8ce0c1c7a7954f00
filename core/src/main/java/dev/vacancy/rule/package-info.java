/** What should happen to the children on a link when their parent goes? */
package dev.vacancy.rule;
