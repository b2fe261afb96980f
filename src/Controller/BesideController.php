<?php

namespace Pestle\App\Controller;

use Pestle\App\Beside\Beside;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\Routing\Attribute\Route;

/** What stands beside as a program; pages talk to each of them by a web socket at /beside/NAME. */
#[AsController]
final readonly class BesideController
{
    public function __construct(private Beside $beside)
    {
    }

    #[Route('/beside', methods: 'GET')]
    public function present(): JsonResponse
    {
        return new JsonResponse(['devices' => $this->beside->present()], 200, ['Cache-Control' => 'no-store']);
    }
}
