package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import java.util.List;

/** What an object mapper adds: rules that its mapping states, and its sessions. Without one, nothing. */
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

        @Override
        public Vacancy attach(Vacancy vacancy) {
            return vacancy;
        }
    };

    /** The application's own rules, and those of the mapping where it says nothing. */
    RuleBook rules(RuleBook own);

    /** What the mapping added, each with where it says so. */
    List<String> derived(Vacancy vacancy);

    /** The same, in step with sessions. */
    Vacancy attach(Vacancy vacancy);
}
