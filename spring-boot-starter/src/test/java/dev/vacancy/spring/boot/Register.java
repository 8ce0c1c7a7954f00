package dev.vacancy.spring.boot;

import dev.vacancy.By;
import dev.vacancy.hibernate.Deletions;
import dev.vacancy.spring.boot.MarinaApplication.Berth;
import dev.vacancy.spring.boot.MarinaApplication.Pier;
import java.util.List;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** What an application does with its entities by their ids. */
@Service
class Register {
    private final BerthRepository berths;
    private final Deletions<Pier, Integer> piers;

    Register(BerthRepository berths, Deletions<Pier, Integer> piers) {
        this.berths = berths;
        this.piers = piers;
    }

    @Transactional
    public List<Integer> strikeOff(int berth) {
        Berth held = berths.findById(berth).orElseThrow();
        List<Integer> gone = berths.delete(held.id(), By.user("una")).ids();
        if (berths.existsById(berth)) {
            throw new IllegalStateException("It is still there");
        }
        return gone;
    }

    @Transactional
    public List<?> berthsThatGoWith(int pier) {
        return piers.delete(pier, By.user("una")).ids(Berth.class);
    }
}
