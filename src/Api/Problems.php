<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Contracts\Translation\TranslatorInterface;

/** Errors as programs read them (RFC 9457). */
final readonly class Problems
{
    public function __construct(private TranslatorInterface $translator)
    {
    }

    /** @param array<mixed> $fields of the answer's head */
    public function answer(int $status, array $fields = []): JsonResponse
    {
        $response = new JsonResponse([
            'type' => 'about:blank', 'title' => Response::$statusTexts[$status] ?? 'Error', 'status' => $status,
            'detail' => $this->detail($status),
        ], $status, $fields);
        $response->setEncodingOptions(\JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES);
        $response->headers->set('Content-Type', 'application/problem+json');
        $response->headers->set('Cache-Control', 'no-store');

        return $response;
    }

    private function detail(int $status): string
    {
        return match ($status) {
            400 => $this->translator->trans('problem.bad_value'),
            401 => $this->translator->trans('problem.no_token'),
            403 => $this->translator->trans('problem.not_allowed'),
            404 => $this->translator->trans('problem.nothing_here'),
            405 => $this->translator->trans('problem.other_method'),
            429 => $this->translator->trans('problem.too_often'),
            default => $this->translator->trans('problem.unexpected'),
        };
    }
}
