/** In which words is a person asked? */
package dev.vacancy.wording;
