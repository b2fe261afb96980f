<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;

/** Follows the pads of each stem through strips and groups to the master, beside the mix. */
final class StemSplitter
{
    /** @var array<string, list<list<string>>> by channel: the pads of each of its stems */
    private array $pieces = [];
    /** @var array<string, string> stem of every "channel/piece" */
    private array $names = [];
    /** @var array<string, list<float>> equalizer state of the first k pieces of a channel */
    private array $states = [];

    /**
     * @param array<string, Strip>  $strips
     * @param array<string, Bus>    $groups
     * @param array<string, string> $stems  name of the stem of every pad
     */
    public function __construct(
        private readonly VoiceRenderer $voices,
        private readonly array $strips,
        private readonly array $groups,
        private readonly Bus $master,
        array $stems,
    ) {
        foreach ($strips as $id => $strip) {
            $byStem = [];
            foreach ($strip->pads as $pad) {
                $byStem[$stems[$pad] ?? 'Other'][] = $pad;
            }
            foreach (array_keys($byStem) as $k => $name) {
                $this->names[$id.'/'.$k] = (string) $name;
                $this->states[$id.'/'.$k] = $strip->equalizerRest();
            }
            $this->pieces[$id] = array_values($byStem);
        }
    }

    /**
     * @param array<string, Rendered> $strips
     * @param array<string, Rendered> $busses
     *
     * @return array<string, StereoBlock> by stem, before the limiter
     */
    public function split(Segment $segment, array $strips, array $busses, Rendered $master): array
    {
        $toMaster = $toGroup = [];
        foreach ($this->strips as $id => $strip) {
            foreach ($this->channel($id, $strip, $segment, $strips[$id]) as $piece => $block) {
                $group = $strip->channel->group;
                if (null !== $group && isset($busses[$group])) {
                    $toGroup[$group][$piece] = $block;
                } else {
                    $toMaster[$piece] = $block;
                }
            }
        }
        foreach ($toGroup as $group => $pieces) {
            $toMaster += Telescope::split($pieces, $segment->frames, fn (StereoBlock $sum): StereoBlock => $this->groups[$group]->part($sum, $busses[$group]->curve));
        }
        $stems = [];
        foreach (Telescope::split($toMaster, $segment->frames, fn (StereoBlock $sum): StereoBlock => $this->master->part($sum, $master->curve)) as $piece => $block) {
            $name = $this->names[$piece];
            $stems[$name] = isset($stems[$name]) ? Gain::sum([$stems[$name], $block], $segment->frames) : $block;
        }

        return $stems;
    }

    /** @return array<string, StereoBlock> by piece, after the fader */
    private function channel(string $id, Strip $strip, Segment $segment, Rendered $whole): array
    {
        $fader = static fn (StereoBlock $block): StereoBlock => Gain::sides($block, $strip->gainLeft, $strip->gainRight);
        $last = \count($this->pieces[$id]) - 1;
        if ($last < 1) {
            return -1 === $last ? [] : [$id.'/0' => $fader($whole->block())];
        }
        $out = $parts = [];
        $before = null;
        foreach ($this->pieces[$id] as $k => $pads) {
            $piece = $id.'/'.$k;
            foreach ($pads as $pad) {
                $parts[] = $this->voices->render($segment->voices[$pad] ?? [], $segment->frames);
            }
            if ($k === $last) {
                $after = $fader($whole->block());
            } else {
                $there = array_values(array_filter($parts));
                $dry = [] === $there ? null : Gain::sum($there, $segment->frames);
                [$equalized, $this->states[$piece]] = $strip->equalize($dry, $segment->frames, $this->states[$piece]);
                $sound = $equalized ?? StereoBlock::silence($segment->frames);
                $after = $fader(null === $whole->curve ? Gain::onGrid($sound) : Gain::curve($sound, $whole->curve->expand($segment->frames)));
            }
            $out[$piece] = null === $before ? $after : Gain::difference($after, $before);
            $before = $after;
        }

        return $out;
    }
}
