package calmstep.service.shelf;

import java.util.List;

/** What nodes tell each other of the copies that they serve. */
interface OtherNodes {
    OtherNodes NONE =
            new OtherNodes() {
                @Override
                public void tell(List<Copy.View> own) {}

                @Override
                public List<Copy.View> heard() {
                    return List.of();
                }
            };

    /** The copies under way from this node; none ends it. */
    void tell(List<Copy.View> own);

    /** Those of the others, as they told them last; of one that is silent, none. */
    List<Copy.View> heard();
}
