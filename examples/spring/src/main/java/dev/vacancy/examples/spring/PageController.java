package dev.vacancy.examples.spring;

import dev.vacancy.examples.spring.fleet.Harbour;
import java.security.Principal;
import java.util.List;
import org.springframework.stereotype.Controller;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;

/** The page of a harbour, or of all harbours for the head office. */
@Controller
public class PageController {
    private final HarbourRepository harbours;
    private final PierRepository piers;
    private final CraftRepository craft;

    PageController(HarbourRepository harbours, PierRepository piers, CraftRepository craft) {
        this.harbours = harbours;
        this.piers = piers;
        this.craft = craft;
    }

    /** What stands on the page of one harbour. */
    record View(Harbour harbour, List<?> piers, List<?> craft) {}

    @GetMapping("/")
    @Transactional(readOnly = true)
    public String page(Principal person, Model model) {
        List<Harbour> shown = harbours.findAllByOrderByName().stream()
                .filter(harbour -> People.harbourOf(person.getName()).orElse(harbour.getId()) == harbour.getId())
                .toList();
        model.addAttribute("person", person.getName());
        model.addAttribute("headOffice", People.harbourOf(person.getName()).isEmpty());
        model.addAttribute("harbours", shown.stream().map(this::view).toList());
        return "harbours";
    }

    private View view(Harbour harbour) {
        return new View(
                harbour,
                piers.findByHarbourIdOrderByName(harbour.getId()),
                craft.findByHarbourIdOrderByName(harbour.getId()));
    }
}
