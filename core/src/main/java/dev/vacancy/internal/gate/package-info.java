/** May this be carried out? The one place where what was agreed to is held against what would be done. */
package dev.vacancy.internal.gate;
