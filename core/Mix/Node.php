<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/**
 * A line of the mixer: what feeds it goes through its inserts, is set in level (dB) and place (-1 to 1), and goes on to
 * a group or the master, and to returns as far as it is sent there.
 */
final readonly class Node implements Settable
{
    use Chain;
    use Settings;

    public const MOST_INSERTS = 16;
    public const COLOURS = ['plum', 'tide', 'basil', 'turmeric', 'paprika', 'clay'];

    /**
     * @param string|null                   $output  a group; null for the master
     * @param string|null                   $colour  one of COLOURS; none until the maker gives it one
     * @param FaderPlace                    $fader   before its inserts in beats of old
     * @param list<InsertSettings>          $inserts in order
     * @param array<string, Send>           $sends   by return
     * @param array<string, InsertSettings> $aside   by insert: other settings of it, to be compared
     */
    public function __construct(
        public string $id,
        public string $name,
        public NodeKind $kind = NodeKind::Channel,
        public ?string $output = null,
        public ?string $colour = null,
        public float $gainDb = 0.0,
        public float $pan = 0.0,
        public bool $mute = false,
        public bool $solo = false,
        public FaderPlace $fader = FaderPlace::After,
        public array $inserts = [],
        public array $sends = [],
        public array $aside = [],
    ) {
        if (\count($inserts) > self::MOST_INSERTS) {
            throw new \InvalidArgumentException(\sprintf('%s would have %d inserts; a line has at most %d.', $name, \count($inserts), self::MOST_INSERTS));
        }
    }

    public static function parameters(): array
    {
        return [
            'gainDb' => Parameter::number('Level', 'dB', -60.0, 12.0, 0.0, 0.5, moves: true),
            'pan' => Parameter::number('Pan', '', -1.0, 1.0, 0.0, 0.05, 2, true),
            'mute' => Parameter::onOff('Mute'),
            'solo' => Parameter::onOff('Solo'),
            'fader' => Parameter::choice('Place of the level', FaderPlace::After),
        ];
    }

    /** With an equalizer and a compressor, both at rest. */
    public static function channel(string $id, string $name, ?string $output = null): self
    {
        return new self($id, $name, NodeKind::Channel, $output, inserts: [EqualizerSettings::fresh('i1'), new CompressorSettings('i2')]);
    }

    /** With a compressor for all that it holds together, at rest. */
    public static function group(string $id, string $name): self
    {
        return new self($id, $name, NodeKind::Group, inserts: [new CompressorSettings('i1', false, -14.0, 2.0, 20.0)]);
    }

    public static function aReturn(string $id, string $name): self
    {
        return new self($id, $name, NodeKind::Return);
    }

    public function with(array $changed): static
    {
        /** @var array{id: string, name: string, kind: NodeKind, output: string|null, colour: string|null, gainDb: float, pan: float, mute: bool, solo: bool, fader: FaderPlace, inserts: list<InsertSettings>, sends: array<string, Send>, aside: array<string, InsertSettings>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** @return list<string> the lines it goes to: its output, unless that is the master, and returns */
    public function feeds(): array
    {
        return [...null === $this->output ? [] : [$this->output], ...array_map(strval(...), array_keys($this->sends))];
    }

    public function inner(): array
    {
        $inside = $this->insideInserts();
        foreach ($this->sends as $to => $send) {
            $inside['sends/'.$to] = $send;
        }

        return $inside;
    }

    public function withInner(string $path, Settable $inner): static
    {
        return $inner instanceof Send ? $this->with(['sends' => array_replace($this->sends, [substr($path, \strlen('sends/')) => $inner])]) : $this->withInsideInsert($path, $inner);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        /** @var array<string, mixed> $plain */
        $plain = [
            ...get_object_vars($this),
            'kind' => $this->kind->value,
            'fader' => $this->fader->value,
            'inserts' => array_map(static fn (InsertSettings $i): array => $i->toArray(), $this->inserts),
            'sends' => array_map(static fn (string $to, Send $s): array => ['to' => $to, ...get_object_vars($s)], array_keys($this->sends), array_values($this->sends)),
            'aside' => array_map(static fn (InsertSettings $i): array => $i->toArray(), array_values($this->aside)),
        ];

        return $plain;
    }
}
