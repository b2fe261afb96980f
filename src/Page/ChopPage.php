<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\Sample;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Fit;
use Pestle\Core\Theory\Key;

/** A sample as Chop shows it: with this beat's edits, its slices, its hits, and what would make it fit. */
final readonly class ChopPage
{
    public Edits $edits;
    /** Frames of the sample with its edits. */
    public int $frames;

    public function __construct(public Sample $sample, private Beat $beat)
    {
        $this->edits = $beat->edits[$sample->hash] ?? new Edits();
        $this->frames = $this->edits->length($sample->frames);
    }

    /** The edits that are heard, for addresses; empty when there are none. */
    public function query(): string
    {
        [, $json] = [...explode('|', $this->edits->of($this->sample->hash), 2), ''];

        return $json;
    }

    /** @return list<int> beats of the sample where they are now */
    public function beats(): array
    {
        $beats = array_map(fn (int $frame): int => $this->edits->fromSource($frame, $this->sample->frames), $this->sample->beats());
        sort($beats);

        return $beats;
    }

    /** Tempo as it sounds now, after stretching and speeding. */
    public function bpm(): ?float
    {
        $bpm = $this->sample->bpm();

        return null === $bpm ? null : $bpm * $this->scale();
    }

    /** How much faster it runs than its source. */
    private function scale(): float
    {
        $scale = 1.0;
        foreach ($this->edits->list as $edit) {
            if ($edit->on && null === $edit->from && null === $edit->to) {
                $scale *= 1000000 / $edit->length(1000000);
            }
        }

        return max(0.05, $scale);
    }

    public function bars(): ?int
    {
        $bpm = $this->bpm();
        $bars = null === $bpm ? 0.0 : $this->frames / $this->sample->rate * $bpm / 240.0;

        return $bars > 0.9 && abs($bars - round($bars)) < 0.03 ? (int) round($bars) : null;
    }

    public function seconds(): float
    {
        return $this->frames / $this->sample->rate;
    }

    /**
     * For each marker the role of the hit there.
     *
     * @return list<string>
     */
    public function roles(): array
    {
        $near = (int) ($this->sample->rate * 0.03);
        $hits = !$this->sample->isMadeOfHits() && 'one-shot' !== $this->sample->kind() ? [] : array_map(fn (array $hit): array => [$this->edits->fromSource($hit[0], $this->sample->frames), Sample::roleOf($hit[1])->value], $this->sample->hits());
        $roles = [];
        foreach ($this->beat->slices[$this->sample->hash]->markers ?? [] as $marker) {
            $role = $this->sample->isLoop() || [] === $hits ? 'tonal' : $this->sample->role()->value;
            foreach ($hits as [$frame, $kind]) {
                if (abs($frame - $marker) <= $near) {
                    $role = $kind;
                    break;
                }
            }
            $roles[] = $role;
        }

        return $roles;
    }

    /**
     * How many slices there are of each kind, how many of them are on pads, and the pad with the clearest one.
     *
     * @return list<array{role: Role, count: int, pads: int, best: Pad|null}>
     */
    public function kinds(): array
    {
        $roles = $this->roles();
        $kinds = [];
        foreach (array_count_values($roles) as $name => $count) {
            $role = Role::from($name);
            $pads = array_filter($this->beat->kit->pads, fn (Pad $p): bool => $p->sample === $this->sample->hash && $p->role === $role);
            $best = null;
            $most = -1.0;
            foreach ($pads as $pad) {
                foreach ($this->sample->hits() as [$frame, , $sure, $level]) {
                    $place = $this->edits->fromSource($frame, $this->sample->frames);
                    if ($place >= $pad->start - 500 && $place < $pad->end && $sure * $level > $most) {
                        [$best, $most] = [$pad, $sure * $level];
                    }
                }
            }
            $kinds[] = ['role' => $role, 'count' => $count, 'pads' => \count($pads), 'best' => $best];
        }

        return $kinds;
    }

    /** @return list<array{name: string, fit: Fit}> what would make it fit, the whole of it first */
    public function fits(): array
    {
        $fits = [];
        $bpm = $this->bpm();
        $tempo = null === $bpm ? null : Fit::tempo($bpm, $this->beat->tempo->bpm, $this->frames, $this->sample->rate, $this->bars());
        $from = $this->key();
        $key = null === $from || null === $this->beat->key ? null : Fit::key($from, $this->beat->key);
        if (null !== $tempo && null !== $key) {
            $fits[] = ['name' => 'Fit to the beat', 'fit' => $tempo->and($key)];
        }
        if (null !== $tempo) {
            $fits[] = ['name' => 'Tempo only', 'fit' => $tempo];
            $fits[] = ['name' => 'Half-time', 'fit' => Fit::tempo($bpm, $this->beat->tempo->bpm, $this->frames, $this->sample->rate, $this->bars(), 2)];
            $fits[] = ['name' => 'Double-time', 'fit' => Fit::tempo($bpm, $this->beat->tempo->bpm, $this->frames, $this->sample->rate, $this->bars(), -2)];
        }
        if (null !== $bpm || $this->sample->seconds() > 2.0) {
            $wanted = max(1, (int) round($this->seconds() * $this->beat->tempo->bpm / 240.0));
            $fits[] = ['name' => \sprintf('Exactly %d %s', $wanted, 1 === $wanted ? 'bar' : 'bars'), 'fit' => Fit::bars($wanted, $this->beat->tempo->bpm, $this->frames, $this->sample->rate)];
        }
        if (null !== $from && null !== $this->beat->key && null !== $key) {
            $fits[] = ['name' => 'Key, the shorter way', 'fit' => $key];
            if ([] !== $key->edits) {
                $fits[] = ['name' => 'Key, the other way', 'fit' => Fit::key($from, $this->beat->key, false)];
            }
        }
        $note = $this->sample->pitch();
        if (null !== $note && null !== $this->beat->key) {
            $tonic = $this->beat->key->tonic;
            $fits[] = ['name' => 'Tune to the home chord', 'fit' => Fit::note($note + $this->shift(), $tonic, $tonic + ($this->beat->key->minor ? 3 : 4), $tonic + 7)];
        }

        return $fits;
    }

    /** Key as it sounds now. */
    public function key(): ?Key
    {
        $name = $this->sample->key();

        return null === $name ? null : Key::of(Key::named($name)->tonic + (int) round($this->shift()) + 120, Key::named($name)->minor);
    }

    /**
     * @param list<Edit> $add
     *
     * @return array<string, mixed> the change that adds edits
     */
    public function change(array $add): array
    {
        return $this->set([...$this->edits->list, ...$add]);
    }

    /** @return array<string, mixed> */
    public function without(int $index): array
    {
        return $this->set(array_values(array_diff_key($this->edits->list, [$index => 1])));
    }

    /** @return array<string, mixed> */
    public function switched(int $index): array
    {
        $list = $this->edits->list;
        $list[$index] = $list[$index]->with(!$list[$index]->on);

        return $this->set($list);
    }

    /** @return array<string, mixed> one place earlier */
    public function earlier(int $index): array
    {
        $list = $this->edits->list;
        [$list[$index - 1], $list[$index]] = [$list[$index], $list[$index - 1]];

        return $this->set($list);
    }

    /**
     * @param array<int, Edit> $list
     *
     * @return array<string, mixed>
     */
    private function set(array $list): array
    {
        return ['type' => 'set-edits', 'sample' => $this->sample->hash, 'frames' => $this->sample->frames, 'edits' => (new Edits(array_values($list)))->toArray()];
    }

    /** Semitones by which it is moved. */
    private function shift(): float
    {
        $cents = 0.0;
        foreach ($this->edits->list as $edit) {
            if ($edit->on && null === $edit->from && null === $edit->to) {
                $cents += (float) ($edit->settings['cents'] ?? 0.0);
            }
        }

        return $cents / 100.0 + ($this->isSpeeded() ? 12.0 * log($this->speed(), 2) : 0.0);
    }

    private function isSpeeded(): bool
    {
        return 1.0 !== $this->speed();
    }

    private function speed(): float
    {
        $speed = 1.0;
        foreach ($this->edits->list as $edit) {
            if ($edit->on && \Pestle\Core\Sample\EditKind::Speed === $edit->kind && null === $edit->from) {
                $speed *= (float) ($edit->settings['percent'] ?? 100.0) / 100.0;
            }
        }

        return $speed;
    }
}
