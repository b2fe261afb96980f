<?php

namespace Pestle\App\Controller;

use Pestle\App\Beside\Beside;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Render\PlayedOutside;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\Routing\Attribute\Route;

/** What stands beside as a program; pages talk to each of them by a web socket at /beside/NAME. */
#[AsController]
final readonly class BesideController
{
    public function __construct(private Beside $beside, private Beats $beats)
    {
    }

    #[Route('/beside', methods: 'GET')]
    public function present(): JsonResponse
    {
        return new JsonResponse(['devices' => $this->beside->present()], 200, ['Cache-Control' => 'no-store']);
    }

    /** What a part plays in one coming of a section, for a box outside. */
    #[Route('/beats/{beat}/outside', requirements: ['beat' => '\d{1,9}'], methods: 'GET')]
    public function outside(BeatRecord $record, Request $request): JsonResponse
    {
        $said = new Fields($request->query->all());
        $played = PlayedOutside::in($this->beats->content($record), $said->id('entry'), $said->id('part'));

        return new JsonResponse(['at' => $played->at, 'seconds' => $played->seconds, 'channel' => $played->channel, 'notes' => $played->notes], 200, ['Cache-Control' => 'no-store']);
    }
}
