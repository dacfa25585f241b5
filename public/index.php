<?php

declare(strict_types=1);

use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\Request;
use Ypomna\App\Kernel;
use Ypomna\App\Replay\PartResponder;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Settings;

require dirname(__DIR__).'/vendor/autoload.php';

Settings::load();
umask(0o077);
if (PartResponder::answer(
    $_SERVER, Settings::text('PAGE_HOST', 'localhost'), Settings::text('YPOMNA_PORT', '8020'),
    Settings::text('PUBLIC_URL', 'http://localhost'), Settings::text('DATABASE_URL', ''), DataFolder::ofSettings(),
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
