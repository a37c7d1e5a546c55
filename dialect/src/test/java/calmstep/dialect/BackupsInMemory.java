package calmstep.dialect;

import calmstep.core.device.BackupKind;
import calmstep.core.device.Backups;
import calmstep.core.step.Digests;
import java.util.ArrayList;
import java.util.List;

/** Backups that a test keeps. */
final class BackupsInMemory implements Backups {
    private record Text(int hop, Kept kept, String text) {}

    private final List<Text> texts = new ArrayList<>();

    @Override
    public Kept keep(int hop, BackupKind kind, String text) {
        Kept kept = new Kept(texts.size() + 1, kind, Digests.sha256(text), text.length());
        texts.add(new Text(hop, kept, text));
        return kept;
    }

    @Override
    public List<Kept> kept(int hop) {
        return texts.stream().filter(text -> text.hop() == hop).map(Text::kept).toList();
    }

    @Override
    public String readBack(Kept kept) {
        return texts.stream()
                .filter(text -> text.kept().equals(kept))
                .findFirst()
                .orElseThrow()
                .text();
    }
}
