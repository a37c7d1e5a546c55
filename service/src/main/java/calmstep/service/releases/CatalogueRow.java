package calmstep.service.releases;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;
import org.hibernate.annotations.Immutable;
import org.jspecify.annotations.Nullable;

@Entity
@Immutable
@Table(name = "catalogue")
class CatalogueRow {
    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    @Nullable Long id;

    String family = "";
    String fileName = "";
    String text = "";
    String sha256 = "";
    LocalDate issued = LocalDate.EPOCH;
    Instant importedAt = Instant.EPOCH;
    String importedBy = "";
}
