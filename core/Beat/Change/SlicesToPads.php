<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\Channel;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Theory\Swing;
use Pestle\Core\Theory\Ticks;

/**
 * Fills a new bank, or the next ones when there are more than sixteen slices, with the slices of a
 * sample on one channel, and writes the pattern that replays the recording.
 */
final readonly class SlicesToPads implements Change
{
    private function __construct(
        private string $sample,
        private string $name,
        private int $frames,
        private int $sampleRate,
        private Role $role,
        private ?int $bars,
        /** @var list<Role> of each slice, where it is its own */
        private array $roles,
    ) {
    }

    public static function from(Fields $fields): self
    {
        return new self(
            $fields->hash('sample'),
            $fields->text('name'),
            $fields->whole('frames', 1, \PHP_INT_MAX),
            $fields->whole('rate', 1000, 768000),
            $fields->choice('role', Role::class),
            $fields->has('bars') ? $fields->whole('bars', 1, Pattern::MAX_BARS) : null,
            $fields->has('roles') ? array_map(static fn (Fields $f): Role => $f->choice('role', Role::class), $fields->rows('roles', Slices::MAX)) : [],
        );
    }

    public function apply(Beat $beat): Beat
    {
        $regions = ($beat->slices[$this->sample] ?? null)?->regions($this->frames) ?? [];
        if ([] === $regions) {
            throw new InvalidChange('There are no slices yet: slice the sample first.');
        }
        $kit = $beat->kit;
        // An untouched first bank is filled before a new one is made.
        $free = [] === $kit->pads ? $kit->banks[0]->id : null;
        $channel = Channel::named($beat->mixer->nextChannelId(), $this->name, null);
        $pads = [];
        foreach (array_chunk($regions, Bank::SIZE) as $chunk => $part) {
            $id = $free ?? $kit->nextBankId() ?? throw new InvalidChange('All eight banks are in use: clear one first.');
            $free = null;
            $kit = $kit->withBank(new Bank($id, mb_substr($this->name, 0, 20).(0 === $chunk ? '' : ' '.($chunk + 1))));
            foreach ($part as $place => [$start, $end]) {
                $number = $chunk * Bank::SIZE + $place + 1;
                $pad = new Pad($id.$place, mb_substr($this->name, 0, 70).' '.$number, $this->roles[$number - 1] ?? $this->role, $this->sample, $start, $end, $channel->id, 0.0, 0.0, 0, PlayMode::Held);
                $kit = $kit->withPad($pad);
                $pads[] = $pad;
            }
        }

        return $beat->withKit($kit)->withMixer($beat->mixer->withChannel($channel))->withPattern($this->replay($beat, $pads));
    }

    /** @param list<Pad> $pads */
    private function replay(Beat $beat, array $pads): Pattern
    {
        $length = null === $this->bars
            ? $beat->tempo->ticks($this->frames / $this->sampleRate)
            : $this->bars * Ticks::PER_BAR;
        $bars = $this->bars ?? max(1, min(Pattern::MAX_BARS, (int) ceil($length / Ticks::PER_BAR - 0.02)));
        $hits = [];
        foreach ($pads as $pad) {
            $tick = (int) round($pad->start / $this->frames * $length);
            $until = (int) round($pad->end / $this->frames * $length);
            $hits[] = new Hit($tick, $pad->id, 127, max(1, $until - $tick));
        }

        return Pattern::of($beat->nextPatternId(), mb_substr($this->name, 0, 60).' as it was', $bars, Swing::percent(50), $hits);
    }

    public function label(Beat $beat): string
    {
        return 'Slices of '.$this->name.' to pads';
    }

    public function touches(): array
    {
        return ['kit', 'pattern/new', 'mixer/new', 'slices/'.$this->sample, 'tempo'];
    }
}
