<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Song\Order;

/** Sets which patterns follow each other, and how often each is played. */
final readonly class SetOrder implements Change
{
    private function __construct(private Order $order)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(new Order(array_map(
            static fn (Fields $part): array => ['pattern' => $part->id('pattern'), 'repeats' => $part->whole('repeats', 1, Order::MAX_REPEATS)],
            $fields->rows('parts', Order::MAX_PARTS),
        )));
    }

    public function apply(Beat $beat): Beat
    {
        foreach ($this->order->parts as $part) {
            $beat->pattern($part['pattern']);
        }

        return $beat->with(['order' => $this->order]);
    }

    public function label(Beat $beat): string
    {
        return 'Order of patterns';
    }

    public function touches(): array
    {
        return ['order'];
    }
}
