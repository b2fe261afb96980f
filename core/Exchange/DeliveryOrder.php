<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;

/** What is to be delivered: the whole beat, a section or a pattern, as a loop or with its tail, in which format and stems, and by how many dB all of it is lowered. */
final readonly class DeliveryOrder
{
    public const MOST_LOWER_DB = 24;
    public const FORMATS = ['16' => '16 bit', '24' => '24 bit', '32f' => '32 bit float'];

    public function __construct(
        public ?string $what = null,
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
        if (null !== $this->what) {
            return $this->loop ? Plan::loop($beat, $this->what, $sounds) : Plan::song($beat, [[$this->what, 1]], $sounds);
        }
        $song = Passage::song($beat);
        if ([] === $song) {
            throw new InvalidChange('The song is empty: put a section with a filled pattern into it, or deliver a single section or pattern.');
        }

        return Plan::song($beat, $song, $sounds);
    }

    public function title(Beat $beat): string
    {
        return null === $this->what ? $beat->name : $beat->name.' - '.($beat->sections[$this->what] ?? $beat->pattern($this->what))->name;
    }
}
