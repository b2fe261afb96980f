<?php

namespace Pestle\App\Gather;

use Pestle\App\Entity\Sample;
use Pestle\Core\Analysis\Grouping;
use Pestle\Core\Analysis\Together;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Sfz\Names;

/** What several sounds that came in at once are likeliest to be. */
final readonly class Dropped
{
    /** How sure a note has to be heard so that its octave is believed more than a file's name: names count octaves in several ways. */
    private const SURE = 0.8;

    public function __construct(private SampleStore $samples)
    {
    }

    /**
     * @param list<string> $hashes
     *
     * @return array{how: string, start: int|null, end: int|null, roots: list<int|null>} the stretch that one strike by several
     *                                                                                   microphones is trimmed to; for each the cents of its note, where it has one
     */
    public function read(array $hashes): array
    {
        $sources = $roots = [];
        foreach ($hashes as $i => $hash) {
            $sample = $this->samples->find($hash) ?? throw new InvalidChange('One of these sounds is not in the library any more.');
            $sources[$sample->name.' '.\chr(97 + $i % 26)] = SoundFile::open($this->samples->library()->path($hash), $sample->name);
            $roots[] = self::rootCents($sample);
        }
        if ([] === $sources) {
            throw InvalidChange::field('samples', 'must name at least one sound.');
        }
        $together = Together::of($sources);
        $trimmed = Grouping::Stack === $together->grouping;

        return ['how' => $together->grouping->value, 'start' => $trimmed ? $together->start : null, 'end' => $trimmed ? $together->end : null, 'roots' => $roots];
    }

    /** What a file's name says and what is heard, together. */
    private static function rootCents(Sample $sample): ?int
    {
        $heard = $sample->pitch();
        $named = Names::key($sample->name);
        if (null === $heard || null === $named) {
            return null === $heard ? (null === $named ? null : 100 * $named) : (int) round(100 * $heard);
        }
        $apart = fmod(100 * ($heard - $named), 1200.0);
        $apart -= 1200.0 * round($apart / 1200.0);

        return (int) round(abs($apart) < 60.0 && $sample->sure('note') < self::SURE ? 100 * $named + $apart : 100 * $heard);
    }
}
