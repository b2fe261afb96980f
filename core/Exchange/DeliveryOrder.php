<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;

/** What is to be delivered: the whole beat or a pattern, as a loop or with its tail, in which format and stems, and by how many dB all of it is lowered. */
final readonly class DeliveryOrder
{
    public const MOST_LOWER_DB = 24;
    public const FORMATS = ['16' => '16 bit', '24' => '24 bit', '32f' => '32 bit float'];

    public function __construct(
        public ?string $pattern = null,
        public bool $loop = false,
        public SampleFormat $format = SampleFormat::Int24,
        public StemGrouping $stems = StemGrouping::None,
        public bool $dither = true,
        public int $lowerDb = 0,
    ) {
    }

    /** @throws InvalidChange */
    public static function from(Fields $fields): self
    {
        $format = $fields->choice('format', SampleFormat::class);
        if (!isset(self::FORMATS[$format->value])) {
            throw InvalidChange::field('format', 'must be one of: 16, 24, 32f.');
        }
        $what = $fields->text('what');

        return new self(
            'beat' === $what ? null : $fields->id('what'),
            'beat' !== $what && $fields->has('loop') && $fields->flag('loop'),
            $format,
            $fields->choice('stems', StemGrouping::class),
            $fields->has('dither') && $fields->flag('dither'),
            $fields->has('lowerDb') ? $fields->whole('lowerDb', 0, self::MOST_LOWER_DB) : 0,
        );
    }

    /** @throws InvalidChange when the beat has nothing to deliver */
    public function plan(Beat $beat, PadSounds $sounds): Plan
    {
        if (null !== $this->pattern) {
            return $this->loop
                ? Plan::loop($beat, $this->pattern, $sounds)
                : Plan::song($beat, [['pattern' => $beat->pattern($this->pattern)->id, 'repeats' => 1]], $sounds);
        }
        if ([] === $beat->order->parts) {
            throw new InvalidChange('The order of patterns is empty: add a pattern to it, or deliver a single pattern.');
        }

        return Plan::song($beat, $beat->order->parts, $sounds);
    }

    public function title(Beat $beat): string
    {
        return null === $this->pattern ? $beat->name : $beat->name.' - '.$beat->pattern($this->pattern)->name;
    }
}
