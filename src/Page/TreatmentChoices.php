<?php

namespace Pestle\App\Page;

use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\LfoShape;
use Pestle\Core\Kit\LfoTarget;

/** What filters and LFOs can be chosen to be. */
trait TreatmentChoices
{
    /** @return list<FilterShape> */
    public function filterShapes(): array
    {
        return FilterShape::cases();
    }

    /** @return list<LfoTarget> */
    public function targets(): array
    {
        return LfoTarget::cases();
    }

    /** @return list<LfoShape> */
    public function lfoShapes(): array
    {
        return LfoShape::cases();
    }
}
