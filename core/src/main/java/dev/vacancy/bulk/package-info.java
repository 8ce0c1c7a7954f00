/** How is a large deletion cut into pieces that survive a crash? */
package dev.vacancy.bulk;
