<?php

declare(strict_types=1);

use Doctrine\DBAL\Connection;
use Symfony\Component\Clock\NativeClock;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestStack;
use Ypomna\App\Kernel;
use Ypomna\App\People\Sessions;
use Ypomna\App\Replay\PartResponder;
use Ypomna\App\Replay\ReadingRights;
use Ypomna\App\Replay\SessionRights;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Settings;

require dirname(__DIR__).'/vendor/autoload.php';

Settings::load();
umask(0o077);
if (PartResponder::answer(
    $_SERVER, Settings::text('APP_HOSTS', 'localhost 127.0.0.1 [::1]'), Settings::text('PAGES_DOMAIN', 'localhost'),
    Settings::text('YPOMNA_PORT', '8020'), Settings::text('PUBLIC_URL', 'http://localhost:8020'), Settings::text('DATABASE_URL', ''),
    DataFolder::ofSettings(),
    static fn (Connection $database): ReadingRights => new SessionRights(
        $database, new Sessions($database, new NativeClock(), new RequestStack()), Settings::text('APP_SECRET', ''),
        Settings::text('PUBLIC_READING', 'off'),
    ),
)) {
    return;
}
// The server in front sends files itself; the field that says so is its own, whatever a client sends.
BinaryFileResponse::trustXSendfileTypeHeader();
$kernel = new Kernel(Settings::environment(), Settings::debug());
$request = Request::createFromGlobals();
$response = $kernel->handle($request);
$response->send();
$kernel->terminate($request, $response);
