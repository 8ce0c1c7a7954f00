package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import java.util.List;

/** The rules that the mapping of an object mapper states. Without one, none. */
interface MappedRules {
    /** Where there is no object mapper. */
    MappedRules NONE = new MappedRules() {
        @Override
        public RuleBook rules(RuleBook own) {
            return own;
        }

        @Override
        public List<String> derived(Vacancy vacancy) {
            return List.of();
        }
    };

    /** The application's own rules, and those of the mapping where it says nothing. */
    RuleBook rules(RuleBook own);

    /** What the mapping added, each with where it says so. */
    List<String> derived(Vacancy vacancy);
}
