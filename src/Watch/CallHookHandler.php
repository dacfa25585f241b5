<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Ypomna\App\Watch\Message\CallHook;

/** Tells web hooks of events. */
#[AsMessageHandler]
final readonly class CallHookHandler
{
    public function __construct(private HookCaller $caller)
    {
    }

    public function __invoke(CallHook $message): void
    {
        $this->caller->call($message);
    }
}
