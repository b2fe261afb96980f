<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Section;

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
        /** @var list<int> slices in the order they go to pads; none for as they come */
        private array $order,
        private ?string $bank,
        private bool $replay,
    ) {
    }

    public static function from(Fields $fields): self
    {
        return new self(
            $fields->hash('sample'),
            $fields->text('name'),
            $fields->frame('frames', 1),
            $fields->whole('rate', 1000, 768000),
            $fields->choice('role', Role::class),
            $fields->has('bars') ? $fields->whole('bars', 1, Pattern::MAX_BARS) : null,
            $fields->has('roles') ? array_map(static fn (Fields $f): Role => $f->choice('role', Role::class), $fields->rows('roles', Slices::MAX)) : [],
            $fields->has('order') ? $fields->wholes('order', Slices::MAX, Slices::MAX - 1) : [],
            $fields->has('bank') ? $fields->id('bank') : null,
            !$fields->has('replay') || $fields->flag('replay'),
        );
    }

    public function apply(Beat $beat): Beat
    {
        $slices = $beat->slices[$this->sample] ?? new Slices([]);
        $regions = $slices->regions($this->frames);
        if ([] === $regions) {
            throw new InvalidChange('There are no slices yet: slice the sample first.');
        }
        $kit = $beat->kit;
        $channel = Node::channel($beat->mixer->nextId(NodeKind::Channel), $this->name, null);
        $places = $this->places($beat, \count($regions));
        $order = [] === $this->order ? array_keys($regions) : array_values(array_intersect(array_unique($this->order), array_keys($regions)));
        $pads = [];
        foreach ($order as $k => $index) {
            $place = $places[$k];
            $bank = preg_replace('/\d+$/', '', $place) ?? '';
            if (null === $kit->bank($bank) || [] === array_filter($kit->pads, static fn (Pad $p): bool => str_starts_with($p->id, $bank))) {
                $number = intdiv($k, Bank::SIZE);
                $kit = $kit->withBank(new Bank($bank, mb_substr($this->name, 0, 20).(0 === $number ? '' : ' '.($number + 1)), $kit->bank($bank)->part ?? $beat->firstKit()->id));
            }
            [$start, $end] = $regions[$index];
            $said = $slices->of($index);
            $name = '' === $said->name ? mb_substr($this->name, 0, 70).' '.($index + 1) : $said->name;
            $role = $said->role ?? $this->roles[$index] ?? $this->role;
            $pad = Pad::of($place, $role, $channel->id, new Layer($name, $this->sample, $start, $end, reversed: $said->reversed))->with(['levelDb' => $said->gainDb, 'mode' => PlayMode::Held]);
            $kit = $kit->withPad($pad);
            $pads[] = $pad;
        }
        $beat = $beat->withKit($kit)->withMixer($beat->mixer->with($channel))->withoutUnusedChannels();

        if (!$this->replay) {
            return $beat;
        }
        $pattern = $this->replay($beat, $pads);
        $first = $beat->sections[array_values($beat->song)[0]->section ?? ''] ?? null;
        $section = null !== $first && [] === Passage::song($beat)
            // A song of nothing but empty patterns begins with this one.
            ? $first->withCell($pattern->part, $pattern->id)
            : new Section($beat->nextSectionId(), $pattern->name, [$pattern->part => $pattern->id]);

        return $beat->withPattern($pattern)->withSection($section);
    }

    /**
     * The pads that are filled: the free ones of this bank, all of a chosen one, or those of new banks.
     *
     * @return list<string>
     */
    private function places(Beat $beat, int $count): array
    {
        $kit = $beat->kit;
        $places = [];
        if ('free' === $this->bank) {
            foreach ($kit->banks as $bank) {
                array_push($places, ...array_values(array_filter($bank->padIds(), static fn (string $id): bool => null === $kit->pad($id))));
            }
        } elseif (null !== $this->bank) {
            $places = ($kit->bank($this->bank) ?? throw InvalidChange::field('bank', 'must be a bank of this beat, or "free".'))->padIds();
        } elseif ([] === $kit->pads) {
            // An untouched first bank is filled before a new one is made.
            $places = $kit->banks[0]->padIds();
        }
        while (\count($places) < $count) {
            $id = $kit->nextBankId() ?? throw new InvalidChange('All banks are in use: clear one first.');
            $kit = $kit->withBank($bank = new Bank($id, $this->name, $beat->firstKit()->id));
            array_push($places, ...$bank->padIds());
        }

        return $places;
    }

    /** @param list<Pad> $pads */
    private function replay(Beat $beat, array $pads): Pattern
    {
        $length = null === $this->bars
            ? $beat->tempo->exactTicks($this->frames / $this->sampleRate)
            : (float) ($this->bars * $beat->meter->barTicks());
        $bars = $this->bars ?? max(1, min(Pattern::MAX_BARS, (int) ceil($length / $beat->meter->barTicks() - 0.02)));
        $hits = [];
        $starts = array_map(static fn (Pad $pad): int => $pad->main()->start, $pads);
        foreach ($pads as $pad) {
            // One that reaches over the next is let go there, so that nothing sounds twice.
            $next = array_filter($starts, static fn (int $start): bool => $start > $pad->main()->start);
            $tick = $pad->main()->start / $this->frames * $length;
            $hits[] = Hit::finely($tick, $pad->id, 127, min([$pad->main()->end, ...$next]) / $this->frames * $length - $tick);
        }

        return Pattern::of($beat->nextPatternId(), mb_substr($this->name, 0, 60).' as it was', $beat->kit->partOf($pads[0]->id) ?? $beat->firstKit()->id, $bars * $beat->meter->barTicks(), new Feel(), $hits);
    }

    public function label(Beat $beat): string
    {
        return 'Slices of '.$this->name.' to pads';
    }

    public function touches(): array
    {
        return ['kit', 'pattern/new', 'section', 'mixer/new', 'slices/'.$this->sample, 'tempo'];
    }
}
