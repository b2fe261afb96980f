<?php

namespace Pestle\App\Page;

use Pestle\App\Deliver\Deliveries;
use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;

/** How far a delivery is, for its row. */
final class DeliveryProgress extends AbstractExtension
{
    public function __construct(private readonly Deliveries $deliveries)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('delivery_progress', $this->deliveries->progress(...))];
    }
}
